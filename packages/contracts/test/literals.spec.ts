import { expect } from 'chai';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';
import { operationNames } from '@jasmorphe/core/operations/catalogue';

const packages = fileURLToPath(new URL('../../', import.meta.url));
const names = new Set<string>(operationNames);
/** What has to stand in a file that could compare with one: no other needs to be parsed. */
const named = new RegExp(`['"\`](${operationNames.join('|')})['"\`]`);

/** Places where the name of an operation stands as a string and decides something: compared, switched on, or run. */
function literalsIn(file: string, text: string): string[] {
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
  const found: string[] = [];
  const isName = (n: ts.Node): n is ts.StringLiteral => ts.isStringLiteralLike(n) && names.has(n.text);
  // `step.operation`, `operation.name`, `planned.operation` ...
  const ofOperation = (n: ts.Node): boolean => /operation/i.test(n.getText());
  const equal = [
    ts.SyntaxKind.EqualsEqualsEqualsToken,
    ts.SyntaxKind.ExclamationEqualsEqualsToken,
    ts.SyntaxKind.EqualsEqualsToken,
    ts.SyntaxKind.ExclamationEqualsToken,
  ];
  const visit = (n: ts.Node): void => {
    let hit: ts.StringLiteral | undefined;
    if (ts.isBinaryExpression(n) && equal.includes(n.operatorToken.kind)) {
      if (isName(n.right) && ofOperation(n.left)) hit = n.right;
      else if (isName(n.left) && ofOperation(n.right)) hit = n.left;
    } else if (ts.isCaseClause(n) && isName(n.expression) && ofOperation(n.parent.parent.expression))
      hit = n.expression;
    else if (ts.isPropertyAssignment(n) && n.name.getText() === 'operation') {
      const value = ts.isAsExpression(n.initializer) ? n.initializer.expression : n.initializer;
      if (isName(value)) hit = value;
    } else if (ts.isCallExpression(n) && /(operation|description)Of$/i.test(n.expression.getText()))
      hit = n.arguments.find(isName);
    if (hit) {
      const { line } = source.getLineAndCharacterOfPosition(hit.getStart());
      found.push(`${relative(packages, file)}:${line + 1} '${hit.text}'`);
    }
    ts.forEachChild(n, visit);
  };
  visit(source);
  return found;
}

function* sources(folder: string, ending = /\.tsx?$/): Generator<string> {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* sources(path, ending);
    else if (ending.test(entry.name)) yield path;
  }
}

describe('names of operations', () => {
  it('are compared with no string outside their own folders: the catalogue is asked', () => {
    const found: string[] = [];
    let looked = 0;
    for (const name of readdirSync(packages))
      for (const path of sources(join(packages, name, 'src'))) {
        if (/core\/src\/operations\/\w+\//.test(path)) continue;
        looked++;
        const text = readFileSync(path, 'utf8');
        if (named.test(text)) found.push(...literalsIn(path, text));
      }
    expect(looked).greaterThan(200);
    expect(found).eql([]);
  });

  it('would be found: comparisons, switches and plans with a name in them', () => {
    const bad = [
      "if (step.operation === 'hollow') run();",
      "if ('mend' !== operation.name) run();",
      "switch (step.operation) { case 'size': run(); }",
      "run({ operation: 'import' as const });",
      "operationOf('divide');",
    ];
    for (const text of bad) expect(literalsIn('x.ts', text), text).length(1);
    // stops and kinds of jobs have names of their own
    for (const text of ["if (stage === 'mend') run();", "if (job.kind === 'import') run();"])
      expect(literalsIn('x.ts', text), text).eql([]);
  });
});

describe('rules of hooks', () => {
  it('are silenced nowhere: what an effect goes by stands beside it', () => {
    const silenced = /(?:ox|es)lint-disable[^\n]*react-hooks/;
    const found: string[] = [];
    let hooks = 0;
    for (const path of sources(join(packages, 'web', 'src'))) {
      const text = readFileSync(path, 'utf8');
      hooks += text.split('useEffect(').length - 1;
      if (silenced.test(text)) found.push(relative(packages, path));
    }
    expect(hooks).greaterThan(50);
    expect(silenced.test('// oxlint-disable-next-line react-hooks/exhaustive-deps')).equal(true);
    expect(found).eql([]);
  });
});

describe('the stylesheet of the page', () => {
  it('has no class that nothing on the page has', () => {
    const folder = join(packages, 'web', 'src');
    const css = readFileSync(join(folder, 'app', 'jasmorphe.css'), 'utf8');
    const classes = new Set([...css.matchAll(/\.([a-z][A-Za-z]+)/g)].map(([, name]) => name));
    const text = [...sources(folder)].map((path) => readFileSync(path, 'utf8')).join('\n');
    expect(classes.size).greaterThan(30);
    expect([...classes].filter((name) => !new RegExp(`['"\`\\s]${name}['"\`\\s$]`).test(text))).eql([]);
  });
});

describe('what the build makes', () => {
  it('has a module for every source, and each finds what it imports beside it', () => {
    const lost: string[] = [];
    let imports = 0;
    for (const name of ['core', 'contracts', 'threads', 'server', 'cli'])
      for (const source of sources(join(packages, name, 'src'), /\.ts$/)) {
        const made = source.replace(`${name}/src/`, `${name}/dist/`).replace(/\.ts$/, '.js');
        if (!existsSync(made)) lost.push(`${relative(packages, made)} was not made`);
        else
          // as the compiler sees them: in a text an import is none
          for (const { fileName } of ts.preProcessFile(readFileSync(made, 'utf8'), true, true).importedFiles) {
            if (!fileName.startsWith('.')) continue;
            imports++;
            if (!existsSync(join(dirname(made), fileName))) lost.push(`${relative(packages, made)} wants ${fileName}`);
          }
      }
    expect(imports).greaterThan(1000);
    expect(lost).eql([]);
  });
});
