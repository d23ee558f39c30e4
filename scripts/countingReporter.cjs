const { writeFileSync } = require('node:fs');
const { reporters } = require('mocha');

/** Mocha's own account, and in a file the counts for the closing line and how long each test and set-up took. */
module.exports = class CountingReporter extends reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    const took = [];
    const note = (one) =>
      took.push({ title: one.fullTitle(), file: one.file ?? one.parent?.file, ms: one.duration ?? 0 });
    runner.on('test end', note);
    runner.on('hook end', note);
    runner.once('end', () => {
      const { passes, failures, pending } = this.stats;
      if (process.env.JASMORPHE_TEST_RESULT)
        writeFileSync(
          process.env.JASMORPHE_TEST_RESULT,
          JSON.stringify({ passed: passes, failed: failures, skipped: pending, took }),
        );
    });
  }
};
