import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';

/** Something that a person does at an instant. */
export interface Hand {
  at: string;
  says: string;
}

/** What a person has to do, in order: things done within the same while are said together ("off 2 · load 4"). */
export function handsOf(plan: Pick<DaysPlan, 'days' | 'bench'>, togetherMs = 45 * 60_000): Hand[] {
  const single: { at: string; verb: string; what: string }[] = [];
  const add = (at: string | null, verb: string, what: string): void => {
    if (at !== null) single.push({ at, verb, what });
  };
  // where there are several projects a number is not enough
  const several = new Set(plan.days.map((d) => d.project)).size > 1;
  for (const d of plan.days) {
    const number = d.bedful.replace(/^Bedful /, '');
    const what = several ? `${number} ${d.project}` : number;
    if (!d.running) add(d.loadAt, 'load', what);
    for (const look of d.looks) add(look.at, 'look at', what);
    for (const stop of d.stops) add(stop.at, stop.says || 'stop', `at ${what}`);
    for (const draw of d.draws.slice(1)) add(draw.at, 'spool for', what);
    add(d.offAt, 'off', what);
  }
  for (const b of plan.bench) if (b.what === 'glue' || b.what === 'seams') add(b.from, b.what, b.project);
  single.sort((a, b) => Date.parse(a.at) - Date.parse(b.at));
  const out: { at: string; verbs: Map<string, string[]> }[] = [];
  for (const { at, verb, what } of single) {
    const last = out.at(-1);
    const group =
      last && Date.parse(at) - Date.parse(last.at) <= togetherMs ? last : { at, verbs: new Map<string, string[]>() };
    if (group !== last) out.push(group);
    const list = group.verbs.get(verb) ?? [];
    group.verbs.set(verb, list.includes(what) ? list : [...list, what]);
  }
  return out.map(({ at, verbs }) => ({
    at,
    says: [...verbs].map(([verb, list]) => `${verb} ${list.join(', ')}`).join(' · '),
  }));
}
