/** What the terms of a work allow, as far as a maker needs to know at the bench. */
export interface Licence {
  id: LicenceId;
  name: string;
  /** one line: what may be done with it */
  allows: string;
  /** altered works may be passed on */
  mayShareAltered: boolean;
  /** prints may be sold */
  maySell: boolean;
  mustName: boolean;
}

export const licenceIds = [
  'unknown',
  'own',
  'cc0',
  'cc-by',
  'cc-by-sa',
  'cc-by-nc',
  'cc-by-nc-sa',
  'cc-by-nd',
  'cc-by-nc-nd',
  'mit',
  'gpl',
  'words',
] as const;
export type LicenceId = (typeof licenceIds)[number];

const says = (
  id: LicenceId,
  name: string,
  allows: string,
  [mayShareAltered, maySell, mustName]: [boolean, boolean, boolean],
): Licence => ({ id, name, allows, mayShareAltered, maySell, mustName });

/**
 * The common open licences by name. Source: the deeds of the Creative Commons licences 4.0 and CC0 1.0
 * (creativecommons.org), the MIT licence, and the GNU General Public License 3; in our own words, no advice of law.
 */
export const licences: Readonly<Record<LicenceId, Licence>> = {
  unknown: says('unknown', 'not known', 'Nobody said. Print it for yourself; ask before you pass it on or sell.', [
    false,
    false,
    true,
  ]),
  own: says('own', 'my own work', 'Yours: do as you like.', [true, true, false]),
  cc0: says('cc0', 'CC0, no rights kept', 'Print, change, pass on and sell it; nobody need be named.', [
    true,
    true,
    false,
  ]),
  'cc-by': says('cc-by', 'CC BY', 'Print, change, pass on and sell it; name who made it and say that you changed it.', [
    true,
    true,
    true,
  ]),
  'cc-by-sa': says(
    'cc-by-sa',
    'CC BY-SA',
    'As CC BY; what you make of it and pass on must stand under the same terms.',
    [true, true, true],
  ),
  'cc-by-nc': says('cc-by-nc', 'CC BY-NC', 'Print, change and pass it on, naming who made it; not for money.', [
    true,
    false,
    true,
  ]),
  'cc-by-nc-sa': says(
    'cc-by-nc-sa',
    'CC BY-NC-SA',
    'As CC BY-NC; what you make of it and pass on must stand under the same terms.',
    [true, false, true],
  ),
  'cc-by-nd': says(
    'cc-by-nd',
    'CC BY-ND',
    'Print it, pass it on as it came, and sell prints; what you change stays with you.',
    [false, true, true],
  ),
  'cc-by-nc-nd': says(
    'cc-by-nc-nd',
    'CC BY-NC-ND',
    'Print it and pass it on as it came, not for money; what you change stays with you.',
    [false, false, true],
  ),
  mit: says('mit', 'MIT', 'Print, change, pass on and sell it; its notice goes along.', [true, true, true]),
  gpl: says('gpl', 'GPL 3', 'Print, change, pass on and sell it; changed files go along under the same terms.', [
    true,
    true,
    true,
  ]),
  words: says('words', 'own words', 'As the words say.', [true, true, true]),
};

/** Terms under which altered files may not be passed on. */
export const forbidsAltered = (id: LicenceId): boolean => licences[id].mayShareAltered === false && id !== 'unknown';

/** The licence that words speak of, where they name one; `words` for others, `unknown` for none. */
export function licenceOfWords(words: string): LicenceId {
  const said = words.toLowerCase().replace(/[\s_]+/g, '-');
  if (said === '') return 'unknown';
  if (/cc-?0|public-domain/.test(said)) return 'cc0';
  const marks = /(?:cc-?by|by)((?:-(?:nc|nd|sa))*)(?:-|$|,|\.|\d)/.exec(said);
  if (marks && /cc|creative-commons/.test(said)) {
    const id = `cc-by${marks[1]}`;
    return licenceIds.find((known) => known === id) ?? 'words';
  }
  if (/creative-commons/.test(said)) {
    const nc = /non-?commercial/.test(said);
    const nd = /no-?deriv/.test(said);
    const sa = /share-?alike/.test(said);
    const id = `cc-by${nc ? '-nc' : ''}${nd ? '-nd' : sa ? '-sa' : ''}`;
    return licenceIds.find((known) => known === id) ?? 'words';
  }
  if (/\bmit\b/.test(said)) return 'mit';
  if (/\bgpl|gnu-general/.test(said)) return 'gpl';
  return 'words';
}

/** Terms of a piece: its own, those that its words name, or its project's. */
export const termsOf = (
  piece: { terms: LicenceId; licence: string },
  project: { terms: LicenceId; licence: string },
): LicenceId => {
  if (piece.terms !== 'unknown') return piece.terms;
  const named = licenceOfWords(piece.licence);
  if (named !== 'unknown' && named !== 'words') return named;
  if (project.terms !== 'unknown') return project.terms;
  return named !== 'unknown' ? named : licenceOfWords(project.licence);
};
