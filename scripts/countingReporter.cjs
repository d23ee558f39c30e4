const { writeFileSync } = require('node:fs');
const { reporters } = require('mocha');

/** Mocha's own account, and in a file the counts for the closing line, what failed, and how long each test and set-up took. */
module.exports = class CountingReporter extends reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    const took = [];
    const note = (one) =>
      took.push({ title: one.fullTitle(), file: one.file ?? one.parent?.file, ms: one.duration ?? 0 });
    const failures = [];
    runner.on('fail', (one, error) => failures.push({ title: one.fullTitle(), why: error.stack ?? String(error) }));
    runner.on('test end', note);
    runner.on('hook end', note);
    runner.once('end', () => {
      const { passes, pending } = this.stats;
      if (process.env.JASMORPHE_TEST_RESULT)
        writeFileSync(
          process.env.JASMORPHE_TEST_RESULT,
          JSON.stringify({ passed: passes, failed: failures.length, skipped: pending, took, failures }),
        );
    });
  }
};
