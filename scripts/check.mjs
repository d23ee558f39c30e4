import { ESLint } from 'eslint';
import { join } from 'node:path';
import ts from 'typescript';
import { root } from './workspace.mjs';

// Types and lint rules over one program: the rules that ask for types get those that the compiler has found already, which
// takes half the time of the two one after the other. `npm run typecheck` and `npm run lint:code` do either alone.

process.chdir(root);
const configured = ts.getParsedCommandLineOfConfigFile(join(root, 'tsconfig.checks.json'), undefined, {
  ...ts.sys,
  onUnRecoverableConfigFileDiagnostic: (d) => {
    throw new Error(ts.flattenDiagnosticMessageText(d.messageText, '\n'));
  },
});
const host = ts.createCompilerHost(configured.options, true);
const program = ts.createProgram(configured.fileNames, configured.options, host);
const wrong = ts.sortAndDeduplicateDiagnostics([...configured.errors, ...ts.getPreEmitDiagnostics(program)]);
if (wrong.length > 0) console.error(ts.formatDiagnostics(wrong, host));

const eslint = new ESLint({
  overrideConfig: [
    {
      files: ['packages/*/src/**/*.{ts,tsx}', 'demo/src/**/*.ts'],
      languageOptions: { parserOptions: { projectService: false, programs: [program] } },
    },
  ],
});
const results = await eslint.lintFiles(['.']);
const said = await (await eslint.loadFormatter('stylish')).format(results);
if (said) console.error(said);
const found = results.reduce((sum, r) => sum + r.errorCount + r.warningCount, 0);
console.log(
  `${program.getRootFileNames().length} files of TypeScript: ${wrong.length} wrong in type, ${found} in form`,
);
process.exit(wrong.length + found > 0 ? 1 : 0);
