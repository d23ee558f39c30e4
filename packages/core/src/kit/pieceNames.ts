/** Endings of the files that pieces are read from. */
const meshEndings = ['stl', 'obj', 'ply', '3mf'] as const;

const endingOf = (name: string): string => /\.([^./]+)$/.exec(name)?.[1].toLowerCase() ?? '';

/** A file that a piece may be read from, by its name. */
export const isMeshFile = (name: string): boolean => (meshEndings as readonly string[]).includes(endingOf(name));

/** An archive that holds the files of a kit, by its name. */
export const isArchive = (name: string): boolean => endingOf(name) === 'zip';

/** An archive that a whole project was packed into, by the names in it: what is in it is no kit. */
export const isPack = (names: readonly string[]): boolean =>
  names.includes('pack.json') && names.some((name) => /^meshes\/[0-9a-f]{64}\.ply$/.test(name));

/** What systems put into archives by themselves: no maker means them. */
export const isLitter = (path: string): boolean => /(^|\/)(__MACOSX|\.[^/]+|Thumbs\.db|desktop\.ini)(\/|$)/i.test(path);

/**
 * The path of a file within a kit, as it is shown and compared: parts joined by `/`, composed letters (Unicode NFC),
 * nothing that would lead out of a folder and no control characters.
 */
export const kitPath = (given: string): string =>
  given
    .normalize('NFC')
    .replace(/\\/g, '/')
    // oxlint-disable-next-line no-control-regex
    .replace(/[\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, '')
    .split('/')
    .filter((part) => part !== '' && part !== '.' && part !== '..' && !/^[a-z]:$/i.test(part))
    .map((part) => part.slice(0, 200))
    .join('/')
    .slice(-500);

/** The last part of a path. */
export const fileNameIn = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** The name of a piece: its file's, without the ending. */
export const pieceName = (path: string): string => {
  const name = fileNameIn(path);
  return name.replace(/\.[^.]+$/, '') || name;
};

/**
 * Names that can stand in one folder: where two are the same but for the case of letters, which many file systems do
 * not tell apart, the later ones are numbered.
 */
export function distinctNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const dot = name.lastIndexOf('.');
    const [stem, ending] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
    for (let n = 1; ; n++) {
      const tried = n === 1 ? name : `${stem}-${n}${ending}`;
      const key = tried.normalize('NFC').toLowerCase();
      if (taken.has(key)) continue;
      taken.add(key);
      return tried;
    }
  });
}
