const { writeFileSync } = require('node:fs');
const { reporters } = require('mocha');

/** Mocha's own account, and the counts in a file for the closing line. */
module.exports = class CountingReporter extends reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    runner.once('end', () => {
      const { passes, failures, pending } = this.stats;
      if (process.env.JASMORPHE_TEST_RESULT)
        writeFileSync(
          process.env.JASMORPHE_TEST_RESULT,
          JSON.stringify({ passed: passes, failed: failures, skipped: pending }),
        );
    });
  }
};
