import { expect } from 'chai';
import type { BodyView, StepView } from '@jasmorphe/contracts/views';
import { countOf, saidAgain, speakers, volumeText } from '@jasmorphe/core/words/numbers';
import { tokens } from '../src/app/tokens.ts';
import { meshHashAfter } from '@jasmorphe/contracts/steps';
import { paramWords } from '../src/ledger/stepWords.ts';
import { projectNameOf } from '../src/project/projectName.ts';
import { laterWords } from '../src/stages/laterSteps.ts';

const { mm, in: inch } = speakers;
const step = (operation: string, params: object, outputs: string[] = ['out']): StepView =>
  ({
    operation,
    params,
    outputs,
    inputs: [],
    report: {},
    elapsedMs: 1,
    id: operation,
    version: 1,
    createdAt: '',
  }) as never;

/** Relative luminance and contrast as in WCAG 2.2, 1.4.3. */
function contrast(a: string, b: string): number {
  const luminance = (hex: string) => {
    const [r, g, b3] = [1, 3, 5].map((i) => {
      const c = parseInt(hex.slice(i, i + 2), 16) / 255;
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
    });
    return 0.2126 * r + 0.7152 * g + 0.0722 * b3;
  };
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return (x + 0.05) / (y + 0.05);
}

describe('cards', () => {
  it('every colour of text can be read on every ground it stands on (WCAG 2.2 AA, 4.5 : 1)', () => {
    for (const scheme of ['light', 'dark'] as const) {
      const t = tokens[scheme];
      for (const ground of ['paper', 'sheet', 'bench'] as const)
        for (const text of ['ink', 'ink2', 'ink3', 'verdigris', 'ochre', 'madder'] as const)
          expect(contrast(t[text], t[ground]), `${scheme}: ${text} on ${ground}`).least(4.5);
      for (const [text, ground] of [
        ['verdigris', 'verdigrisGround'],
        ['ochre', 'ochreGround'],
        ['madder', 'madderGround'],
        ['ink', 'verdigrisGround'],
        ['onAccent', 'verdigris'],
      ] as const)
        expect(contrast(t[text], t[ground]), `${scheme}: ${text} on ${ground}`).least(4.5);
    }
  });

  it('the ledger speaks workshop words, in the unit on display, and leaves out what goes without saying', () => {
    const divide = step('divide', {
      bed: [254, 254, 254],
      margin: 0,
      plan: 'auto',
      join: 'pin',
      clearance: 0.2,
      labels: true,
      up: [0, 0, 1],
    });
    expect(paramWords(divide, inch)).eql([
      'bed 10.00 in × 10.00 in × 10.00 in',
      'joined by pins',
      'gap 0.008 in',
      'tags engraved',
    ]);
    expect(paramWords(step('hollow', { wall: 3, drains: 2, openBase: false, drain: 3.5 }), mm)).eql([
      'wall 3.00 mm',
      '2 drains a cavity',
      'drains 3.50 mm',
    ]);
    expect(paramWords(step('recut', { printed: 47.3, backOff: 0, up: [1, 0, 0] }), mm)).eql([
      'stood 47.3 mm',
      'up along 1.00, 0.00, 0.00',
    ]);
    expect(paramWords(step('size', { constructor: 1, nonsense: 2 }), mm)).eql([]);
    expect([countOf(1, 'part'), countOf(2, 'part')]).eql(['1 part', '2 parts']);
    expect([volumeText(1_234_567, true), volumeText(1500)]).eql(['1\u2009235 mL', '1.5 cm³']);
    // an inch is 25.4 mm: its square 645.16 mm², its cube 16 387.064 mm³ (international yard and pound agreement, 1959)
    expect([mm.area(645.16), inch.area(645.16), mm.volume(16_387.064), inch.volume(16_387.064)]).eql([
      '6.5 cm²',
      '1.0 in²',
      '16.4 cm³',
      '1.0 in³',
    ]);
    // bottles of resin say millilitres everywhere; layers keep their digits
    expect([inch.volume(5000, true), inch.fine(0.2, 2), mm.fine(0.12)]).eql(['5.0 mL', '0.008 in', '0.120 mm']);
    expect(saidAgain('0.20 mm layers, 0.40 mm nozzle, 2 walls', inch)).equal(
      '0.008 in layers, 0.016 in nozzle, 2 walls',
    );
    expect(saidAgain('0.20 mm layers, brim of 8 mm', mm)).equal('0.20 mm layers, brim of 8 mm');
  });

  it('a card says what later steps will do when they replay, those in force alone', () => {
    const line = [
      step('import', {}),
      step('size', { factor: 4 }),
      step('hollow', { wall: 9 }),
      step('divide', { bed: [1, 1, 1] }),
    ];
    const body = (cursor: number) => ({ line, cursor }) as BodyView;
    expect(laterWords(body(3), 1, mm)).equal('After it hollow keeps its wall of 9.00 mm.');
    expect(laterWords(body(4), 0, mm)).match(
      /^After it size keeps its factor of 4; hollow.*; divide cuts for the same bed/,
    );
    expect(laterWords(body(2), 1, mm)).equal('');
  });

  it('a stop starts from the mesh before its own step; a divide leaves the whole as it was', () => {
    const line = [
      step('import', {}, ['a']),
      step('size', {}, ['b']),
      step('divide', {}, ['p', 'q']),
      step('hollow', {}, ['c']),
    ];
    const body = { line, mesh: { hash: 'now' } } as BodyView;
    expect([1, 2, 3, 4].map((n) => meshHashAfter(body.line, n))).eql(['a', 'b', 'b', 'c']);
  });

  it('a drop is named after the first file that looks like a model', () => {
    const named = (...names: string[]) => projectNameOf(names.map((name) => ({ name })));
    expect(named('readme.txt', 'wheel hub.stl', 'axle.stl')).equal('wheel hub');
    expect([named('readme.txt'), named('.stl')]).eql(['readme', 'New project']);
  });
});
