import { isWholeDay } from '@jasmorphe/core/params/moments';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { ChangePiece, PhotoFields } from '@jasmorphe/contracts/kitRequests';
import { tipKeys } from '@jasmorphe/contracts/reading/poses';
import { Origin } from '@jasmorphe/contracts/Origin';
import { DismissFinding } from '@jasmorphe/contracts/findingRequests';
import { ChangeProject, ChangeReference, CreateLogEntry } from '@jasmorphe/contracts/requests';
import { codecs } from '../store/codecs.ts';
import type { PackedRows } from './PackedProject.ts';

/*
 * What comes in with a pack is held to what the API takes: a name that no page could have given is none that every page has to
 * show from then on.
 */

/** Letters of whatever has no limit of its own: the longest note. */
const mostLetters = 20_000;
/** Drawings in a line of text, such as the shadow of a part, and of names of files. */
const mostDrawn = 4_000_000;
const mostFileName = 500;

const partTag = /^[A-Z]{1,3}[0-9]{1,4}(r[0-9]{1,3})?$/;

/** Why a text is none that is shown anywhere; null where nothing is wrong. */
function textTrouble(key: string, value: string, most = mostLetters): string | null {
  if (value.includes('\0')) return `${key} holds a character that no text has`;
  if (value.length > most) return `${key} has ${value.length} letters`;
  if (/At$/.test(key) && !(/^\d{4}-\d\d-\d\dT/.test(value) && Number.isFinite(Date.parse(value))))
    return `${key} is no time`;
  if (/On$/.test(key) && !isWholeDay(value)) return `${key} is no day`;
  return null;
}

/** Why anything within a value is none that is shown anywhere. */
function deepTrouble(key: string, value: unknown): string | null {
  if (typeof value === 'string')
    return textTrouble(key, value, key === 'path' || key === 'd' ? mostDrawn : mostLetters);
  if (typeof value !== 'object' || value === null) return null;
  for (const [inner, held] of Object.entries(value)) {
    if (typeof held === 'number') continue;
    const trouble = inner.length > 200 ? `${key} has a field of ${inner.length} letters` : deepTrouble(inner, held);
    if (trouble !== null) return trouble;
  }
  return null;
}

/** What the API would say of such an object. @throws MeshError */
type Look = () => unknown;

const given = <T>(value: T | null): T | undefined => value ?? undefined;
const short = (text: string, most: number): boolean => text.length > 0 && text.length <= most;

/** Looks at all rows that have limits of their own, each with what it is called. */
function* looksAt(rows: PackedRows): Generator<[what: string, ok: Look]> {
  for (const { name, note, licence, terms, source, dueOn } of rows.projects)
    yield [
      'the project',
      () =>
        parseParams(Origin, source) && parseParams(ChangeProject, { name, note, licence, terms, dueOn: given(dueOn) }),
    ];
  for (const m of rows.models) {
    const { name, copies, colour, licence, terms, aside, source } = m;
    const said = { name, copies, colour, licence, terms, reason: given(aside) };
    yield [
      'a piece',
      () =>
        parseParams(Origin, source) &&
        parseParams(ChangePiece, said) &&
        m.sourceName.length <= mostFileName &&
        m.path.length <= mostFileName &&
        m.seq >= 1,
    ];
  }
  for (const p of rows.parts) yield ['a part', () => partTag.test(p.tag) && Number.isInteger(p.position) && p.seq >= 1];
  for (const { code, reason } of rows.dismissals)
    yield ['a reason', () => parseParams(DismissFinding, { code, reason })];
  for (const { key } of rows.joints) yield ['a joint', () => short(key, 120)];
  for (const { key } of rows.tipTicks) yield ['a tip', () => tipKeys.test(key)];
  for (const { key } of rows.variantChoices) yield ['a choice', () => /^[0-9a-f]{32}$/.test(key)];
  for (const { name, move, turn, liningMm, wantMm } of rows.references)
    yield ['a body', () => parseParams(ChangeReference, { name, move, turn, liningMm, wantMm })];
  for (const { text, name } of rows.attachments)
    yield ['a photo or note', () => parseParams(PhotoFields, { text }) && name.length <= mostFileName];
  for (const e of rows.logEntries) {
    const { partId, printerId, outcome, correctsId, heightMm, durationS, materialG, note, at } = e;
    const said = { partId, printerId, outcome, correctsId, heightMm, durationS, materialG, note, at };
    yield [
      'an entry of the log',
      () =>
        parseParams(CreateLogEntry, said) &&
        (e.tag === '' || partTag.test(e.tag)) &&
        /^([0-9a-f]{64})?$/.test(e.meshHash),
    ];
  }
  for (const b of rows.bedfuls)
    yield [
      'a bedful',
      () =>
        Number.isInteger(b.number) &&
        b.number > 0 &&
        b.number <= 100_000 &&
        short(b.printerName, 80) &&
        short(b.arrangement, 120) &&
        (b.endedBy === null || short(b.endedBy, 120)),
    ];
  for (const { profile } of rows.printers)
    yield ['a printer', () => parseParams(PrinterProfile, { ...codecs.profile.read(profile) })];
}

/** What of the rows is beyond what the API takes, in words; null where nothing is. */
export function beyondLimits(rows: PackedRows): string | null {
  for (const [table, list] of Object.entries(rows) as [string, Record<string, unknown>[]][])
    for (const row of list) {
      const trouble = deepTrouble(table, row);
      if (trouble !== null) return `of ${table}, ${trouble}`;
    }
  for (const [what, look] of looksAt(rows))
    try {
      if (look() === false) return `${what} is none`;
    } catch (error) {
      if (!isMeshError(error)) throw error;
      return `${what}: ${error.message.replace(/\.$/, '')}`;
    }
  return null;
}
