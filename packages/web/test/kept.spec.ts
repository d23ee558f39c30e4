import { expect } from 'chai';
import { catalogue, descriptionOf, operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { paramFacts } from '@jasmorphe/core/params/facts';
import { wordsOf } from '@jasmorphe/core/params/Param';
import type { PrinterView } from '@jasmorphe/contracts/views';
import type { DivideParams } from '@jasmorphe/core/operations/divide/describe';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { answerOf } from '../src/stages/divide/answers.ts';
import { bedParams } from '../src/stages/divide/plans.ts';
import { keptParams, shownParams, type EditedOnCard } from '../src/stages/shownParams.ts';
import { ownStep, stageIds, stepOfStage } from '../src/stages/Stage.ts';
import { toolIds } from '../src/tools/tools.ts';
import type { BodyView } from '@jasmorphe/contracts/views';

/** A step's params with something in every one of them. */
const full = (name: OperationName): Record<string, unknown> =>
  Object.fromEntries(paramFacts(descriptionOf(name).params).map((p, i) => [p.name, `something ${i}`]));

describe('editing a step on its card', () => {
  const cards = Object.keys(shownParams) as EditedOnCard[];

  it('every operation that leads a stop with a card is edited there, and no other', () => {
    const leading = operationNames.filter((n) => {
      const { leads, stop } = descriptionOf(n);
      // a recut is made anew, never changed: what was printed of it stays what it is
      return leads && stop !== 'print';
    });
    expect([...cards].sort()).eql([...leading].sort());
  });

  for (const name of cards)
    it(`${name}: every param that the card does not show stays; every one it shows exists`, () => {
      const all = full(name);
      const shown: readonly string[] = shownParams[name];
      expect(Object.keys(all)).include.members([...shown]);
      const edited = { ...keptParams(name, all), ...Object.fromEntries(shown.map((p) => [p, 'changed'])) };
      for (const key of Object.keys(all))
        expect((edited as Record<string, unknown>)[key], key).equal(shown.includes(key) ? 'changed' : all[key]);
    });

  it('keeps what was given on the command line: shrinkage along z, detail, up and plugs, places kept clean and a limit of parts', () => {
    expect(keptParams('size', { factor: 2, shrinkage: 1, shrinkageZ: 2 })).eql({ shrinkageZ: 2 });
    expect(keptParams('hollow', { wall: 2, detail: 0.4, up: [1, 0, 0], plugs: true, drains: 2 })).eql({
      detail: 0.4,
      up: [1, 0, 0],
      plugs: true,
    });
    expect(keptParams('divide', { bed: [1, 2, 3], at: [{ axis: 'z', mm: 5 }], maxParts: 9, labelDepthMm: 1 })).eql({
      maxParts: 9,
      labelDepthMm: 1,
    });
  });

  it('a divide for resin has no nozzle of the filament that it was for before; what the card sets, it shows', () => {
    const printer = (profile: Partial<PrinterProfile>): PrinterView => ({
      id: 'p',
      profile: Object.assign(new PrinterProfile(), profile),
      retiredAt: null,
      loggedH: 0,
    });
    const old: Partial<DivideParams> = {
      ...bedParams([printer({ nozzleMm: 0.8, keepOuts: [] })]),
      maxParts: 9,
      weights: { parts: 1, seam: 0, support: 0, time: 0 },
      cuts: [{ normal: [1, 0, 0], offset: 3 }],
    };
    expect(old.nozzle).equal(0.8);
    const values = { ...new catalogue.divide.params(), ...catalogue.divide.begins };
    const best = { fewest: null, clean: null, flat: null } as never;
    const beside = { own: [{ normal: [0, 0, 1] as const, offset: 1 }], wishes: null, weighed: null, quick: null };
    const places = { places: [], clean: [], painted: [] };
    for (const column of ['cut', 'own', 'weighed', 'fewest'] as const) {
      const wanted = { values, beds: bedParams([printer({ kind: 'resin', name: 'Vat' })]), ...places };
      const said = answerOf(column, wanted, best, beside as never, { old, done: undefined, parts: [] });
      for (const key of Object.keys(said)) expect(shownParams.divide, `${column} sets ${key}`).include(key);
      const run = { ...keptParams('divide', old), ...said };
      expect([run.kind, run.nozzle, run.maxParts, run.weights]).eql(['resin', undefined, 9, undefined]);
    }
  });
});

describe('the catalogue', () => {
  it('has words for every operation and every param; nothing is named twice', () => {
    const titles = operationNames.map((n) => descriptionOf(n).words.title);
    expect(new Set(titles).size).equal(titles.length);
    for (const name of operationNames) {
      const { params, words } = descriptionOf(name);
      for (const text of [words.summary, words.title, words.done, words.button]) expect(text, name).match(/^[A-Z]/);
      expect([...wordsOf(params).keys()].sort(), name).eql(
        paramFacts(params)
          .map((p) => p.name)
          .sort(),
      );
      for (const { help } of wordsOf(params).values()) expect(help, name).match(/\S{2}/);
    }
  });

  it('one operation leads each stop that changes the mesh, and no two lead the same', () => {
    const stops = operationNames.map(descriptionOf).flatMap((d) => (d.leads ? [d.stop] : []));
    expect(new Set(stops).size).equal(stops.length);
    expect(stops).include.members(['intake', 'mend', 'size', 'hollow', 'divide', 'print']);
    for (const stop of stops) expect(stageIds as readonly unknown[]).include(stop);
  });

  it('the tools are the operations that make a skin beside those that lead a stop', () => {
    const beside = operationNames.filter((n) => descriptionOf(n).makes === 'skin' && !descriptionOf(n).leads);
    expect([...toolIds].sort()).eql(beside.sort());
    for (const id of toolIds) expect(descriptionOf(id).words.rows?.length, id).greaterThan(1);
  });

  it('of several steps of one operation the last in force counts; undone ones only where none is', () => {
    const step = (operation: string, id: string) => ({ operation, id, params: {}, report: {}, outputs: [id] });
    const body = (cursor: number) =>
      ({
        line: [step('import', 'a'), step('size', 'b'), step('size', 'c'), step('size', 'd')],
        cursor,
      }) as never as BodyView;
    expect(ownStep(body(4), catalogue.size)).include({ index: 3, inForce: true });
    expect(ownStep(body(3), catalogue.size)).include({ index: 2, inForce: true });
    expect(ownStep(body(1), catalogue.size)).include({ inForce: false });
    expect(ownStep(body(4), catalogue.hollow)).equal(null);
    expect(stepOfStage(body(3), 'size')).include({ index: 2 });
  });
});
