import { expect } from 'chai';
import { catalogue, descriptionOf, operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { readReport } from '@jasmorphe/core/operations/Description';
import { parseParams, readKept } from '@jasmorphe/core/params/parseParams';
import { inMm } from '@jasmorphe/core/words/numbers';

const xyz = (x: number, y = x, z = x) => ({ x, y, z });

/** An inspection as the first version kept it: findings had a code and a sentence. */
const inspection = (size: number) => ({
  triangles: 12,
  shells: 1,
  size: xyz(size),
  min: xyz(0),
  max: xyz(size),
  volumeMm3: size ** 3,
  findings: [
    {
      code: 'open-edges-2',
      severity: 'failure',
      count: 3,
      message: 'Three open edges.',
      at: null,
      spanMm: 1,
      sure: 'counted',
      mends: [],
    },
  ],
});

/** Reports with the fields that the first version wrote, and no others; from the project's own history. */
const first: Partial<Record<OperationName, object>> = {
  import: {
    format: 'stl',
    bytes: 684,
    groups: 1,
    triangles: 12,
    verticesRead: 36,
    vertices: 8,
    fileSize: xyz(2),
    size: xyz(2),
    unit: 'mm',
    unitFrom: 'guess',
    unitReason: 'as in the file',
  },
  mend: {
    method: 'join',
    before: inspection(2),
    after: inspection(3),
    deviation: { p95Mm: 0.1, maxMm: 0.2, meanMm: 0.05, rmsMm: 0.06, samples: 100 },
    volumeChangePct: 1,
    untouchedPct: 90,
    stitched: { holesFilled: 2, crumbsDropped: 1, sheetsDropped: 0 },
    sound: true,
    reason: 'shells overlapped',
  },
  hollow: {
    wall: { minMm: 1, p05Mm: 1.1, medianMm: 1.2 },
    cavities: [{ volumeMm3: 500, drains: [] }],
    solidVolumeMm3: 1000,
    volumeMm3: 500,
    savedPct: 50,
    trappedMm3: 0,
    detailMm: 0.5,
    plugs: 0,
  },
  size: { factor: xyz(2, 2, 4), before: xyz(1), size: xyz(2, 2, 4), volumeFactor: 16 },
  divide: {
    parts: [
      {
        tag: 'A1',
        volumeMm3: 6,
        size: xyz(1, 2, 3),
        min: xyz(0),
        fits: true,
        pose: {
          rotation: [
            [0, 0, 1],
            [0, 1, 0],
            [-1, 0, 0],
          ],
        },
        joins: [],
      },
      {
        tag: 'B1',
        volumeMm3: 6,
        size: xyz(1, 2, 3),
        min: xyz(0),
        beside: [{ tag: 'A1', areaMm2: 6, cut: 1 }],
      },
    ],
    cuts: [],
    volumeError: 0,
    reason: 'it fits',
  },
  recut: {
    cutAtMm: 5,
    layersKept: 25,
    remainingHeightMm: 3,
    remainingVolumeMm3: 9,
    contactAreaMm2: 4,
    islandsAtCut: 1,
  },
};

describe('what an earlier version kept', () => {
  const params: Partial<Record<OperationName, object>> = {
    divide: { bed: [1, 1, 1] },
    hollow: { wall: 1 },
    size: { factor: 2 },
    recut: { stoppedAt: 5 },
  };

  for (const [name, kept] of Object.entries(first) as [OperationName, object][])
    it(`${name}: its ledger line, its rows and its findings can be read`, () => {
      const { words, findings, ...description } = descriptionOf(name);
      const report = readReport(descriptionOf(name), kept);
      const given = readKept(description.params, params[name] ?? {});
      const said = [
        words.figure?.(given, report, inMm),
        words.replays?.(given, inMm),
        words.says?.(report, inMm),
        ...(words.rows ?? []).map((row) => row.of(report, inMm)),
        ...(words.table?.rows(report, inMm) ?? []).flat(),
      ];
      for (const text of said) expect(text ?? '').not.match(/NaN|undefined|null|object Object/);
      expect(findings?.of(given, report) ?? []).an('array');
      // what it held stays as it was
      for (const [key, value] of Object.entries(kept))
        if (!['before', 'after', 'parts'].includes(key)) expect(report).deep.include({ [key]: value });
    });

  it('what can be told from the rest is told: sizes, heights, ovals', () => {
    const size = readReport(descriptionOf('size'), first.size) as { oval: number; cooled: object };
    expect([size.oval, size.cooled]).eql([2, xyz(2, 2, 4)]);
    const mend = readReport(descriptionOf('mend'), first.mend) as {
      sizeChange: object;
      after: { findings: { key: string }[] };
    };
    expect(mend.sizeChange).eql(xyz(1));
    expect(mend.after.findings.map((f) => f.key)).eql(['open-edges-2']);
    const { parts } = readReport(descriptionOf('divide'), first.divide) as {
      parts: { heightMm: number; fits: boolean; beside: { rooms: object[] }[] }[];
    };
    expect(parts.map((p) => p.beside.map((b) => b.rooms))).eql([[], [[]]]);
    // lying with its x axis down it is as high as it is wide
    expect(parts.map((p) => [p.heightMm, p.fits])).eql([
      [1, true],
      [3, true],
    ]);
  });

  it('whatever proves its solids has a proof to read, and what is whole stays as it is', () => {
    for (const name of operationNames) {
      const description = descriptionOf(name);
      if (description.proves && !description.kept) expect(readReport(description, {}), name).eql({ proof: null });
    }
    const whole = { ...(first.size as object), cooled: xyz(9), oval: 7, averaged: { n: 2 } };
    expect(readReport(descriptionOf('size'), whole)).eql(whole);
    expect(parseParams(catalogue.size.params, { factor: 2 }).factor).equal(2);
  });
});
