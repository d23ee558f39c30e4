import { expect } from 'chai';
import fc from 'fast-check';
import { frameOf, sideBySide, unionOf, type PieceBox } from '@jasmorphe/core/kit/frame';
import { kitUnit } from '@jasmorphe/core/kit/kitUnit';
import { distinctNames, isLitter, kitPath, pieceName } from '@jasmorphe/core/kit/pieceNames';
import { variantGroups, type Likeness } from '@jasmorphe/core/kit/variants';
import { operations } from '@jasmorphe/core/operations/runs';
import { gramsLeft, metresOf } from '@jasmorphe/core/planning/spool';
import { forbidsAltered, licenceOfWords, licences, termsOf } from '@jasmorphe/core/trade/licences';
import { box, moved, run, sphere } from './solids.ts';

const at = (path: string, min: number[] = [0, 0, 0], size: number[] = [10, 20, 30]): Likeness =>
  ({ id: path, path, min, max: min.map((x, k) => x + size[k]) }) as never;
const groupsOf = (pieces: Likeness[], placed = false) => variantGroups(pieces, placed).map((g) => [g.name, ...g.ids]);

describe('names in a kit', () => {
  it('are paths that lead nowhere else, in composed letters', () => {
    expect(kitPath('a\\b/../c.stl')).equal('a/b/c.stl');
    expect(kitPath('/etc/./x.stl')).equal('etc/x.stl');
    expect(kitPath('C:\\kits\\x.stl')).equal('kits/x.stl');
    // e and a combining acute (Unicode 15, UAX 15)
    expect(kitPath('cafe\u0301.stl')).equal('caf\u00e9.stl');
    expect(kitPath('a\u202e\u0000b.stl')).equal('ab.stl');
    expect([pieceName('x/arm.left.stl'), pieceName('.stl')]).eql(['arm.left', '.stl']);
    expect(['__MACOSX/._a.stl', 'x/.DS_Store', 'a/b.stl', 'Thumbs.db'].map(isLitter)).eql([true, true, false, true]);
  });

  it('never lead out of a folder and never meet, whatever they were', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'binary', maxLength: 40 }), { maxLength: 12 }), (names) => {
        const paths = names.map(kitPath);
        for (const p of paths) expect(p.split('/')).not.include.members(['..']);
        const distinct = distinctNames(paths).map((n) => n.normalize('NFC').toLowerCase());
        expect(new Set(distinct).size).equal(distinct.length);
      }),
      { seed: 1 },
    );
  });
});

describe('variants', () => {
  it('are what differs in its last word alone and is about as large', () => {
    expect(groupsOf([at('head_open.stl'), at('head_shut.stl', [0, 0, 0], [10, 20, 31]), at('arm.stl')])).eql([
      ['head', 'head_open.stl', 'head_shut.stl'],
    ]);
    expect(groupsOf([at('hilt.stl'), at('hilt v2.stl'), at('HiltV3.stl')])).eql([
      ['hilt', 'hilt.stl', 'hilt v2.stl', 'HiltV3.stl'],
    ]);
    expect(groupsOf([at('jaw (1).stl'), at('jaw.stl')])).eql([['jaw', 'jaw (1).stl', 'jaw.stl']]);
  });

  it('are no sides, no running numbers, nothing of another size, folder or place', () => {
    expect(groupsOf([at('arm_left.stl'), at('arm_right.stl'), at('rib1.stl'), at('rib 2.stl'), at('rib 3.stl')])).eql(
      [],
    );
    expect(groupsOf([at('head_open.stl'), at('head_shut.stl', [0, 0, 0], [10, 20, 40])])).eql([]);
    expect(groupsOf([at('a/head_open.stl'), at('b/head_shut.stl')])).eql([]);
    const apart = [at('bolt_a.stl'), at('bolt_b.stl', [100, 0, 0])];
    expect([groupsOf(apart, true), groupsOf(apart, false).length]).eql([[], 1]);
  });
});

describe('the frame of a kit', () => {
  const boxAt = (x: number, y: number, z: number, s = 10): PieceBox => ({ min: [x, y, z], max: [x + s, y + s, z + s] });

  it('is shared by what stands in different places, and by none that all begin at the origin', () => {
    expect(frameOf([boxAt(0, 0, 0), boxAt(10, 0, 0), boxAt(0, 5, 10)]).shared).equal(true);
    expect(frameOf([boxAt(0, 0, 0), boxAt(0, 0, 0, 7), boxAt(0, 0, 0, 3)]).shared).equal(false);
    expect(frameOf([boxAt(-5, -5, 0), boxAt(-3, -3, 0, 6), boxAt(-1, -1, 0, 2)]).shared).equal(false);
    expect(frameOf([boxAt(0, 5, 0), boxAt(9000, 0, 0), boxAt(0, -7000, 0)])).include({ shared: false });
  });

  it('side by side nothing lies on anything else, and all stand on the bed', () => {
    const length = fc.double({ min: 0.5, max: 400, noNaN: true });
    const any = fc.tuple(length, length, length, length, length, length).map(([x, y, z, w, d, h]): PieceBox => ({
      min: [x - 200, y - 200, z - 200],
      max: [x - 200 + w, y - 200 + d, z - 200 + h],
    }));
    fc.assert(
      fc.property(fc.array(any, { minLength: 1, maxLength: 25 }), (boxes) => {
        const placed = sideBySide(boxes).map((m, i): PieceBox => ({
          min: [0, 1, 2].map((k) => boxes[i].min[k] + m[k]) as never,
          max: [0, 1, 2].map((k) => boxes[i].max[k] + m[k]) as never,
        }));
        expect(Math.abs(unionOf(placed).min[2])).below(1e-6);
        for (let i = 0; i < placed.length; i++)
          for (let j = 0; j < i; j++)
            expect(
              [0, 1].some(
                (k) => placed[i].min[k] >= placed[j].max[k] - 1e-6 || placed[j].min[k] >= placed[i].max[k] - 1e-6,
              ),
            ).equal(true);
      }),
      { seed: 1 },
    );
  });
});

describe('the unit of a kit', () => {
  const piece = (name: string, x: number, fileUnit: 'mm' | 'in' | null = null) => ({
    name,
    fileSize: { x, y: x / 2, z: x / 3 },
    fileUnit,
  });

  it('is that of its largest piece; what a file states is taken over where the numbers are alike', () => {
    expect(kitUnit([piece('hull', 1.8), piece('bolt', 0.02)])!.unit).equal('m');
    expect(kitUnit([piece('helmet', 11), piece('rivet', 0.3)])!.unit).equal('in');
    expect(kitUnit([piece('body', 240), piece('pin', 4)])!.unit).equal('mm');
    expect(kitUnit([piece('body', 30), piece('lid', 28, 'in')])!.unit).equal('in');
    expect(kitUnit([piece('body', 900), piece('lid', 28, 'in')])!.unit).equal('mm');
    expect(kitUnit([piece('lid', 28, 'in')])).equal(null);
    expect(kitUnit([piece('hull', 1.8), piece('bolt', 0.02)])!.reason).match(/^the largest of 2, hull, is 1\.8 across/);
  });
});

describe('fineness and overhang', () => {
  const traits = async (mesh: Awaited<ReturnType<typeof box>>) => (await run(operations.traits, mesh, {})).report;

  it('of a box and a ball are those of their closed formulas', async () => {
    // 6 a² of skin over 12 a of edge
    const cube = await traits(await box(12, 12, 12));
    expect([cube.detailMm, cube.overhangMm2]).eql([6, 0]);
    // raised above the bed by a foot, its underside hangs
    const { concatMeshes } = await import('@jasmorphe/core/mesh/TriMesh');
    const table = await traits(concatMeshes([await box(2, 2, 5), moved(await box(20, 20, 2), 0, 0, 5)]));
    expect(table.overhangMm2).closeTo(400, 1e-3);
    // the part of a ball's skin below 45 degrees: (1 - sin 45°) / 2, less facets; it has no edge
    const ball = await traits(await sphere(10, 200));
    expect(ball.overhangPct).closeTo(50 * (1 - Math.SQRT1_2), 0.5);
    expect(ball.detailMm).equal(null);
  });
});

describe('terms', () => {
  it('are known by the words that name them, and those without derivatives are told', () => {
    for (const [words, id] of [
      ['', 'unknown'],
      ['CC0 1.0', 'cc0'],
      ['CC BY 4.0', 'cc-by'],
      ['Creative Commons BY-NC-SA', 'cc-by-nc-sa'],
      ['cc_by_nd', 'cc-by-nd'],
      ['Creative Commons Attribution-NonCommercial-NoDerivatives', 'cc-by-nc-nd'],
      ['Creative Commons Attribution', 'cc-by'],
      ['MIT', 'mit'],
      ['GPLv3', 'gpl'],
      ['ask the committee', 'words'],
    ] as const)
      expect(licenceOfWords(words), words).equal(id);
    expect(
      Object.values(licences)
        .filter((l) => forbidsAltered(l.id))
        .map((l) => l.id),
    ).eql(['cc-by-nd', 'cc-by-nc-nd']);
    const own = { terms: 'unknown', licence: '' } as const;
    expect(termsOf(own, { terms: 'cc-by-nd', licence: '' })).equal('cc-by-nd');
    expect(termsOf({ terms: 'cc0', licence: '' }, { terms: 'cc-by-nd', licence: '' })).equal('cc0');
    expect(termsOf({ terms: 'unknown', licence: 'CC BY' }, { terms: 'cc-by-nd', licence: '' })).equal('cc-by');
  });
});

describe('spools', () => {
  it('hold what they last weighed less what was taken since; a kilogram of the usual filament is 335 m', () => {
    const spool = { grossG: 1250, emptyG: 250 };
    expect(gramsLeft(spool, [])).equal(1000);
    expect(gramsLeft(spool, [{ kind: 'used', grams: 300 }])).equal(700);
    expect(
      gramsLeft(spool, [
        { kind: 'used', grams: 300 },
        { kind: 'weighed', grams: 900 },
        { kind: 'used', grams: 50 },
      ]),
    ).equal(600);
    expect(gramsLeft(spool, [{ kind: 'used', grams: 3000 }])).equal(0);
    // mass over density over pi / 4 d²: 1 kg at 1.24 g/cm³ and 1.75 mm, as makers' tables say
    expect(metresOf(1000, 1.75, 1.24)).closeTo(335, 1);
  });
});
