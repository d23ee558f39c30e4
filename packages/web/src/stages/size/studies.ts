/** What may be looked into at this stop beside the size itself. */
const studyIds = ['body', 'walls', 'places', 'sample'] as const;
export type StudyId = (typeof studyIds)[number];

export const studies: Record<StudyId, { name: string; summary: string }> = {
  body: { name: 'On a body', summary: 'Hold it against a head, a hand, a figure or a scan: room, touches, sight' },
  walls: { name: 'Walls', summary: 'What of it is too thin at this size, and three ways out' },
  places: { name: 'Where it goes', summary: 'Rooms, benches, doors and boots: does it stand there, does it pass' },
  sample: { name: 'Test piece', summary: 'A small copy, or a region at full size, to print first' },
};
