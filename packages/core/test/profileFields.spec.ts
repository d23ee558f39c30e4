import { expect } from 'chai';
import { areaOf, volumeOf } from '@jasmorphe/core/mesh/measures';
import { boundsOf, concatMeshes, sizeOf, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { onPrinter } from '@jasmorphe/core/planning/bedfuls/onPrinter';
import { estimatePiece, type Estimate } from '@jasmorphe/core/planning/estimate';
import { supportUnder } from '@jasmorphe/core/planning/pose/underneath';
import { PrinterProfile, usualProfile } from '@jasmorphe/core/planning/PrinterProfile';
import {
  bedOf,
  fieldsOfPart,
  hoursBy,
  printingOf,
  profileFields,
  type Moves,
  type ProfileField,
  type ProfileKey,
} from '@jasmorphe/core/planning/profileFields';
import { quietContext } from '@jasmorphe/core/run/context';
import { box, moved as at, sphere } from './solids.ts';

const keys = Object.keys(profileFields) as ProfileKey[];
const fieldOf = (key: ProfileKey): ProfileField => profileFields[key];
const on = (base: PrinterProfile, change: Partial<PrinterProfile>) => Object.assign(new PrinterProfile(), base, change);

describe('the fields of a printer', () => {
  /** Another value of each field than the one that is tried with. */
  const others: { [K in ProfileKey]?: PrinterProfile[K] } = {
    bedMm: [300, 300, 300],
    marginMm: 9,
    keepOuts: [{ from: [0, 0], to: [9, 9] }] as never,
    layerMm: 0.3,
    firstLayerMm: 0.31,
    lineWidthMm: 0.6,
    nozzleMm: 0.6,
    densityGCm3: 2,
    supports: false,
    overhangDeg: 90,
    minLayerS: 200,
    maxFlowMm3S: 2,
    notes: 'hot',
    name: 'Other',
    fits: [{ material: 'PLA', mm: 0.3 }] as never,
  };
  // a mushroom: walls, a lid that is covered, and an overhang; held by a brim and a raft
  let mushroom: TriMesh;
  before(async () => {
    mushroom = concatMeshes([await box(10, 10, 20), at(await box(30, 30, 4), -10, -10, 20)]);
  });
  const moved = (a: Estimate, b: Estimate): Record<'hours' | 'material' | 'cost' | 'wear', boolean> => ({
    hours: a.durationS !== b.durationS,
    material: a.materialG !== b.materialG || a.filamentM !== b.filamentM,
    cost: a.cost !== b.cost || a.energyKWh !== b.energyKWh,
    wear: a.wearPct !== b.wearPct,
  });

  for (const kind of ['filament', 'resin'] as const)
    it(`each moves what the table says of it, and nothing else: ${kind}`, () => {
      const base = on(usualProfile(kind), { brimMm: 3, raftMm: 4, partLifeH: 500, transitionLayers: 3 });
      const before = estimatePiece(mushroom, base);
      for (const key of keys) {
        const { moves, only, as } = fieldOf(key);
        if (key === 'kind') continue;
        const value = others[key] ?? (as === 'number' || as === 'length' ? (base[key] as number) * 1.5 + 1 : undefined);
        expect(value, `another value of ${key}`).not.equal(undefined);
        const is = moved(before, estimatePiece(mushroom, on(base, { [key]: value })));
        const says = (what: Moves): boolean => moves.includes(what) && (only ?? kind) === kind;
        // resin is filled, and takes no brim; where its support begins moves its grams alone
        if (kind === 'resin' && ['layerMm', 'firstLayerMm', 'supports', 'supportPct', 'overhangDeg'].includes(key)) {
          expect(is.hours, key).equal(key === 'layerMm');
          continue;
        }
        expect([key, is.hours, is.material], `${key} moves hours, material`).eql([
          key,
          says('hours'),
          says('material'),
        ]);
        if (!moves.some((m) => m === 'hours' || m === 'material'))
          expect([key, is.cost], `${key} moves cost`).eql([key, says('cost')]);
        if (!says('hours') && key !== 'hoursRun' && key !== 'partSinceH')
          expect([key, is.wear], `${key} moves wear`).eql([key, says('wear')]);
      }
    });

  it('what a part is worked out by is named whole; what came later only where it is not usual', () => {
    const usual = usualProfile('filament');
    // the fields that poses have been known by since brim and raft came
    expect(Object.keys(printingOf(usual)).length).equal(27);
    expect(printingOf(usual)).not.have.any.keys(
      'name',
      'pricePerKg',
      'brimMm',
      'raftMm',
      'travelSpeedMmS',
      'headRadiusMm',
    );
    expect(printingOf(on(usual, { travelSpeedMmS: 200, brimMm: 5 }))).include({ travelSpeedMmS: 200, brimMm: 5 });
    // the head is a matter of what stands beside
    const long = on(usual, { headRadiusMm: 80, headHeightMm: 12 });
    expect(printingOf(long)).not.have.any.keys('headRadiusMm', 'headHeightMm');
    expect(bedOf(long)).include({ headRadiusMm: 80, headHeightMm: 12, layerMm: 0.2 });
    expect(hoursBy(on(usual, { minLayerS: 9, raftMm: 2, accelerationMmS2: 700 }))).include({
      minLayerS: 9,
      raftMm: 2,
      accelerationMmS2: 700,
      solidLayers: 4,
      firstLayerMm: usual.firstLayerMm,
    });
    expect(fieldsOfPart(false).sort()).eql(['brimMm', 'raftMm']);
    expect(fieldsOfPart(true)).include.members(['layerMm', 'walls', 'brimMm']);
  });
});

describe('a part that goes to another printer', () => {
  const own = usualProfile('filament');
  const printers: [string, PrinterProfile][] = [
    ['slow to speed up', on(own, { accelerationMmS2: 400 })],
    ['quick to speed up', on(own, { accelerationMmS2: 6000, wallSpeedMmS: 120, infillSpeedMmS: 200, maxFlowMm3S: 24 })],
    ['that lets layers cool', on(own, { minLayerS: 20 })],
    ['that travels slowly', on(own, { travelSpeedMmS: 60 })],
    ['of a broad nozzle', usualProfile('filament', undefined, 0.8)],
  ];
  // how far its sections are from those of an upright piece: those are reckoned to the second
  const shapes: [string, () => Promise<TriMesh>, number][] = [
    ['a tower', () => box(10, 12, 70), 0.002],
    ['a slab', () => box(80, 60, 8), 0.002],
    ['a cube', () => box(40, 40, 40), 0.002],
    ['a ball', () => sphere(22, 64), 0.17],
  ];
  for (const [shape, make, within] of shapes)
    it(`takes the hours that its own layers take there: ${shape}`, async () => {
      const mesh = await make();
      const held = on(own, { brimMm: 6, raftMm: 3, minLayerS: 5 });
      const piece = { volumeMm3: volumeOf(mesh), areaMm2: areaOf(mesh), heightMm: sizeOf(boundsOf(mesh))[2] };
      const laidFor = { printer: hoursBy(held), supportMm3: supportUnder(mesh, held, quietContext) };
      const taken = estimatePiece(mesh, held);
      for (const [which, there] of printers) {
        const keep = Object.fromEntries(fieldsOfPart(there.nozzleMm === held.nozzleMm).map((key) => [key, held[key]]));
        const real = estimatePiece(mesh, on(there, keep));
        const said = onPrinter(taken, piece, laidFor, there);
        expect(said.durationS / real.durationS, `hours on one ${which}`).closeTo(1, within);
        expect(said.materialG / real.materialG, `grams on one ${which}`).closeTo(1, within);
      }
    });
});
