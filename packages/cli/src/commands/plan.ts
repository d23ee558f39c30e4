import { MeshError } from '@jasmorphe/core/run/MeshError';
import { fixed, massText, secondsText } from '@jasmorphe/core/words/numbers';
import type { CliCommand, Job } from '../Command.ts';

export const plan: CliCommand = {
  name: 'plan',
  files: '<project.json>',
  summary: 'days, spools and risk: which bedful is printed when, and when all is ready',
  example: 'jasmorphe plan carnyx.json --deadline 2026-12-18',
  options: [
    { flags: '--from <time>', help: 'from when on, such as 2026-11-28T17:30 (default as the file says, or now)' },
    { flags: '--deadline <day>', help: 'ready to paint by' },
    { flags: '-o, --output <days.ics>', help: 'a calendar file of what a person has to do' },
    {
      flags: '--what-if',
      help: 'beside it: one more printer, thicker layers, a larger nozzle, a wall less, and the plans of cuts that the file names',
    },
  ],
  unitless: true,
  async run(job) {
    const { files, options, context } = job as unknown as Job<{ from?: string; deadline?: string; whatIf?: boolean }>;
    const [
      { readJson, writeOutput },
      { calendarFile },
      { planDays },
      { PlanRequest },
      { parseParams },
      { whatIfs },
      words,
    ] = await Promise.all([
      import('../files.ts'),
      import('@jasmorphe/core/planning/days/calendarFile'),
      import('@jasmorphe/core/planning/days/planDays'),
      import('@jasmorphe/core/planning/days/PlanRequest'),
      import('@jasmorphe/core/params/parseParams'),
      import('@jasmorphe/core/planning/days/whatIfs'),
      import('@jasmorphe/core/planning/days/planWords'),
    ]);
    const { from, deadline } = options;
    const given = await readJson(files[0], 'project', 'project');
    const request = Object.assign(parseParams(PlanRequest, given), from && { from }, deadline && { deadline });
    const now = Date.now();
    const made = planDays(request, now, context.seed);
    const others = options.whatIf ? whatIfs(request, made, now, context.seed) : [];
    if (options.output) {
      if (!/\.ics$/i.test(options.output))
        throw new MeshError(
          'bad-params',
          `"${options.output}" is no calendar file.`,
          'Its name ends in .ics.',
          'output',
        );
      await writeOutput(options.output, Buffer.from(calendarFile(made, now), 'utf8'));
    }
    const { clockText, notesText, planSays, rateIn, recordText, spoolsFor, whatIfName } = words;
    return {
      report: { ...made, ...(options.whatIf ? { whatIf: others } : {}) },
      card: {
        rows: [
          ['Ready', clockText(made.ready), 'if nothing fails'],
          ['Nine times of ten by', clockText(made.readyP90), 'from 400 courses of failures'],
          ['Hours of printing', secondsText(made.printS)],
          ['Expected', secondsText(made.expectedS), 'hours with what failures cost: (e^(rt) − 1) / r for each bedful'],
          ['Your own hours', secondsText(made.handsS), 'beds, resin, glue and seams'],
          ['Material', massText(made.materialG)],
        ],
        says: planSays(made),
        findings: notesText(made.notes).map(({ severity, text }) => ({ severity, message: text })),
        tables: [
          {
            heads: ['Bedful', 'Printer', 'Load', 'Printed by', 'Off', 'Hours', 'From'],
            rows: made.days.map((d) => [
              `${d.bedful}${d.decides ? ' *' : ''}`,
              d.printer,
              d.running ? 'it runs' : clockText(d.loadAt),
              clockText(d.endsAt),
              clockText(d.offAt),
              fixed(d.durationS / 3600, 1),
              d.draws.map((w) => `${w.spool} ${massText(w.grams)}`).join(', '),
            ]),
          },
          {
            heads: ['Spool', 'Used', 'Left', 'Runs out'],
            rows: made.spools.map((s) => [s.name, massText(s.usedG), massText(s.leftG), clockText(s.endsAt)]),
          },
          {
            heads: ['To buy', 'Colour', 'Grams', 'Of that for failures', 'Spools of 1 kg'],
            rows: made.buy.map((b) => [
              b.material || b.kind,
              b.colour || 'any',
              massText(b.grams),
              massText(b.allowanceG),
              `${spoolsFor(b.grams)}`,
            ]),
          },
          {
            heads: ['What if', 'Ready', 'Nine of ten by', 'Printing', 'Your own', 'Material'],
            rows: others.map((o) => [
              whatIfName(o),
              clockText(o.ready),
              clockText(o.readyP90),
              secondsText(o.printS),
              secondsText(o.handsS),
              massText(o.materialG),
            ]),
          },
          {
            heads: ['Printer', 'How often it fails'],
            rows: made.records.map((r) => [r.printer, recordText(rateIn(r))]),
          },
        ].filter((t) => t.rows.length > 0),
      },
    };
  },
};
