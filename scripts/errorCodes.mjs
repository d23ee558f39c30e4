import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { format } from 'oxfmt';
import ts from 'typescript';
import { root } from './workspace.mjs';

// The list of error codes in docs/errors.md, gathered from where the code makes them: what each says, and what it advises.

const target = join(root, 'docs/errors.md');

/** Text of a string or a template, with … for what is filled in. */
const textOf = (node) => {
  if (!node) return '';
  if (ts.isStringLiteralLike(node)) return node.text;
  if (ts.isTemplateExpression(node))
    return node.head.text + node.templateSpans.map((span) => `…${span.literal.text}`).join('');
  if (ts.isConditionalExpression(node)) return textOf(node.whenTrue) || textOf(node.whenFalse);
  if (ts.isBinaryExpression(node)) return textOf(node.left) + textOf(node.right);
  return '';
};

/** @returns {Promise<string>} the list as it should be */
export async function errorCodes() {
  const files = execFileSync('git', ['ls-files', 'packages/*/src/**/*.ts', 'packages/*/src/*.ts'], { cwd: root })
    .toString()
    .trim()
    .split('\n');
  /** @type {Map<string, { messages: Set<string>, hints: Set<string>}>} */
  const codes = new Map();
  const add = (code, message, hint) => {
    const known = codes.get(code) ?? { messages: new Set(), hints: new Set() };
    codes.set(code, known);
    if (message) known.messages.add(message);
    if (hint) known.hints.add(hint);
  };
  const visit = (node) => {
    if (ts.isNewExpression(node) && ts.isIdentifier(node.expression)) {
      const args = node.arguments ?? [];
      if (node.expression.text === 'MeshError' && ts.isStringLiteral(args[0]))
        add(args[0].text, textOf(args[1]), textOf(args[2]));
      if (['ApiError', 'Refusal'].includes(node.expression.text) && args[1] && ts.isStringLiteral(args[1]))
        add(args[1].text, textOf(args[2]), textOf(args[3]));
    }
    // errors that are written out: { code: '…', message: '…', hint: '…' }, or by code: '…': { message, hint }
    if (ts.isObjectLiteralExpression(node)) {
      const of = (name) => node.properties.find((p) => ts.isPropertyAssignment(p) && p.name.getText() === name);
      const [code, message, hint] = ['code', 'message', 'hint'].map(of);
      const own =
        ts.isPropertyAssignment(node.parent) && ts.isStringLiteral(node.parent.name) ? node.parent.name : undefined;
      const name = code ? code.initializer : own;
      if (name && message && hint && ts.isStringLiteral(name))
        add(name.text, textOf(message.initializer), textOf(hint.initializer));
    }
    ts.forEachChild(node, visit);
  };
  for (const file of files) {
    const text = readFileSync(join(root, file), 'utf8');
    // no other file makes any, and parsing them takes the time
    if (/\b(MeshError|ApiError|Refusal|message)\b/.test(text))
      visit(ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true));
  }
  const cell = (text) => text.replace(/\|/g, '\\|').replace(/\s+/g, ' ');
  const some = (set, n) => [...set].slice(0, n).map(cell).join('<br>');
  const rows = [...codes]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([code, { messages, hints }]) => `| \`${code}\` | ${some(messages, 3)} | ${some(hints, 2)} |`);
  const text = `# Error codes

Made by \`npm run errors\` from the code; the tests hold it against it. Every error is \`{ code, message, hint, field? }\`: on the
command line after \`error\`, from HTTP as \`{ error: … }\`. Scripts may switch on the code; the sentences may change. … stands for
what is filled in. Where a code is used in several places, up to three of its sentences are given.

| code | says | advises |
| --- | --- | --- |
${rows.join('\n')}
`;
  const { code, errors } = await format(target, text, { printWidth: 120 });
  if (errors.length > 0) throw new Error(errors[0].message);
  return code;
}

if (process.argv[1]?.endsWith('errorCodes.mjs')) {
  const wanted = await errorCodes();
  writeFileSync(target, wanted);
  console.log(`${wanted.split('\n').filter((l) => l.startsWith('| `')).length} codes`);
}
