import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { MeshError } from '../run/MeshError.ts';
import { boundsOf, concatMeshes, countUp, flipMesh, subMesh, type TriMesh } from '../mesh/TriMesh.ts';
import type { RunContext } from '../run/context.ts';
import { readArchive, writeArchive } from './archive.ts';
import { GrowableFloats, GrowableIndices } from '../mesh/Growable.ts';
import { digits } from './obj.ts';
import type { StatedUnit } from './units.ts';

/** Units that the 3MF Core Specification 1.3, section 3.4, allows. */
const units: Readonly<Record<string, StatedUnit>> = {
  micron: 'micron',
  millimeter: 'mm',
  centimeter: 'cm',
  inch: 'in',
  foot: 'ft',
  meter: 'm',
};

/** What the file says of itself (section 3.4.1 of the specification); empty where it says nothing. */
export interface FileWords {
  title: string;
  designer: string;
  licence: string;
}

/** One object of the build, in its place. */
export interface ThreeMfObject {
  name: string;
  mesh: TriMesh;
  /** #rrggbb, where the file gives one */
  colour: string | null;
}

/**
 * What one file may ask for. Objects may hold one another and be placed over and over, so that a few kilobytes could ask
 * for more than any memory holds.
 */
const threeMfLimits = { placements: 100_000, triangles: 20_000_000, vertices: 20_000_000, depth: 32 };

/** Row-vector affine transform as in the specification, 3.3: m00 m01 m02 m10 ... m32. */
type Transform = number[];
const identity: Transform = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];

interface Component {
  path: string;
  id: string;
  transform: Transform;
}

interface ModelObject {
  type: string;
  name: string;
  /** of its property group and place in it */
  colour: { group: string; index: number } | null;
  mesh?: TriMesh;
  components: Component[];
}

interface Model {
  unit: StatedUnit;
  objects: Map<string, ModelObject>;
  items: Component[];
  words: FileWords;
  /** colours of each property group */
  colours: Map<string, string[]>;
}

const again = 'Export it again from the program that made it.';

function parseTransform(text: string | undefined, where: string): Transform {
  if (!text) return identity;
  const values = text.trim().split(/\s+/).map(Number);
  if (values.length !== 12 || !values.every(Number.isFinite))
    throw new MeshError('bad-number', `The transform of ${where} is not twelve numbers.`, again);
  return values;
}

/** First a, then b. */
function compose(a: Transform, b: Transform): Transform {
  const out = new Array<number>(12);
  for (let r = 0; r < 4; r++)
    for (let c = 0; c < 3; c++)
      out[3 * r + c] = a[3 * r] * b[c] + a[3 * r + 1] * b[3 + c] + a[3 * r + 2] * b[6 + c] + (r === 3 ? b[9 + c] : 0);
  return out;
}

/** @throws MeshError `bad-number` where a corner would lie further away than any number says */
function transformed(mesh: TriMesh, m: Transform, where: string): TriMesh {
  const p = mesh.positions;
  const positions = new Float32Array(p.length);
  for (let i = 0; i < p.length; i += 3)
    for (let c = 0; c < 3; c++) positions[i + c] = p[i] * m[c] + p[i + 1] * m[3 + c] + p[i + 2] * m[6 + c] + m[9 + c];
  if (!positions.every(Number.isFinite))
    throw new MeshError('bad-number', `The transform of ${where} puts it beyond all numbers.`, again);
  const det =
    m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]);
  const out = { positions, triangles: mesh.triangles };
  return det < 0 ? flipMesh(out) : out;
}

/** Well-known metadata names, section 3.4.1. */
const wordNames: Readonly<Record<string, keyof FileWords>> = {
  Title: 'title',
  Designer: 'designer',
  LicenseTerms: 'licence',
};

function parseModel(bytes: Uint8Array, path: string, context: RunContext): Model {
  const model: Model = {
    unit: 'mm',
    objects: new Map(),
    items: [],
    words: { title: '', designer: '', licence: '' },
    colours: new Map(),
  };
  let word: keyof FileWords | null = null;
  let group = '';
  const parser = new SaxesParser<{ xmlns: false; position: true }>({ xmlns: false, position: true });
  let object: ModelObject | undefined;
  let objectId = '';
  let points: GrowableFloats | undefined;
  let faces: GrowableIndices | undefined;
  let known = false;
  const real = (tag: SaxesTagPlain, name: string): number => {
    const value = Math.fround(Number(tag.attributes[name]?.trim() || NaN));
    if (!Number.isFinite(value))
      throw new MeshError(
        'bad-number',
        `${path}, line ${parser.line}: ${name}="${tag.attributes[name] ?? ''}" is not a finite number.`,
        again,
      );
    return value;
  };
  const index = (tag: SaxesTagPlain, name: string): number => {
    const value = Number(tag.attributes[name]?.trim() || NaN);
    if (!Number.isInteger(value) || value < 0 || value >= points!.length / 3)
      throw new MeshError(
        'bad-index',
        `${path}, line ${parser.line}: ${name}="${tag.attributes[name] ?? ''}" names none of the ${points!.length / 3} vertices of object ${objectId}.`,
        again,
      );
    return value;
  };
  const local = (name: string) => name.slice(name.indexOf(':') + 1);
  parser.on('error', (error) => {
    throw new MeshError('bad-syntax', `${path} is not well-formed XML: ${error.message}.`, again);
  });
  parser.on('opentag', (tag) => {
    switch (local(tag.name)) {
      case 'model': {
        known = true;
        const unit = tag.attributes['unit'] ?? 'millimeter';
        if (!Object.hasOwn(units, unit))
          throw new MeshError('bad-syntax', `${path} is in "${unit.slice(0, 40)}", which is not a unit of 3MF.`, again);
        model.unit = units[unit];
        break;
      }
      case 'metadata':
        word = wordNames[tag.attributes['name'] ?? ''] ?? null;
        break;
      case 'basematerials':
      case 'colorgroup':
        group = tag.attributes['id'] ?? '';
        model.colours.set(group, []);
        break;
      case 'base':
      case 'color': {
        const given = tag.attributes['displaycolor'] ?? tag.attributes['color'] ?? '';
        model.colours.get(group)?.push(/^#[0-9a-f]{6}/i.test(given) ? given.slice(0, 7).toLowerCase() : '');
        break;
      }
      case 'object':
        objectId = tag.attributes['id'] ?? '';
        object = {
          type: tag.attributes['type'] ?? 'model',
          name: (tag.attributes['name'] ?? '').slice(0, 120),
          colour:
            tag.attributes['pid'] === undefined
              ? null
              : { group: tag.attributes['pid'], index: Number(tag.attributes['pindex'] ?? 0) },
          components: [],
        };
        model.objects.set(objectId, object);
        break;
      case 'mesh':
        if (!object) break;
        points = new GrowableFloats();
        faces = new GrowableIndices();
        break;
      case 'vertex':
        points?.push3(real(tag, 'x'), real(tag, 'y'), real(tag, 'z'));
        break;
      case 'triangle':
        if (points) faces!.push3(index(tag, 'v1'), index(tag, 'v2'), index(tag, 'v3'));
        break;
      case 'component':
      case 'item': {
        const pathKey = Object.keys(tag.attributes).find((k) => k.endsWith(':path'));
        const component = {
          path: pathKey ? tag.attributes[pathKey].replace(/^\/+/, '') : path,
          id: tag.attributes['objectid'] ?? '',
          transform: parseTransform(
            tag.attributes['transform'],
            `${local(tag.name)} ${tag.attributes['objectid'] ?? ''}`,
          ),
        };
        if (local(tag.name) === 'item') model.items.push(component);
        else object?.components.push(component);
        break;
      }
    }
  });
  parser.on('text', (text) => {
    if (word) model.words[word] = (model.words[word] + text).trim().slice(0, 2000);
  });
  parser.on('closetag', (tag) => {
    if (local(tag.name) === 'metadata') word = null;
    if (local(tag.name) === 'mesh' && object && points && faces) {
      // vertices that no triangle has would be placed for nothing, maybe thousands of times
      const all = { positions: points.taken(), triangles: faces.taken() };
      object.mesh = subMesh(all, countUp(all.triangles.length / 3));
      points = faces = undefined;
    } else if (local(tag.name) === 'object') object = undefined;
  });
  const utf16 =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8';
  const decoder = new TextDecoder(utf16);
  const step = 1 << 18;
  for (let at = 0; at < bytes.length; at += step) {
    context.checkCancelled();
    parser.write(decoder.decode(bytes.subarray(at, at + step), { stream: at + step < bytes.length }));
  }
  parser.close();
  if (!known) throw new MeshError('no-model', `${path} holds no <model>.`, again);
  return model;
}

/** The path of the model that the package relationships (Open Packaging Conventions, 6.5.3) name, where they do. */
function modelOf(relationships: Uint8Array): string | undefined {
  let root: string | undefined;
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('opentag', ({ name, attributes }) => {
    if (/(^|:)Relationship$/.test(name) && attributes['Type']?.endsWith('3dmodel'))
      root = attributes['Target']?.replace(/^\/+/, '');
  });
  try {
    parser.write(new TextDecoder().decode(relationships)).close();
  } catch {
    // what it named before it broke, or else the usual place
  }
  return root;
}

/**
 * 3MF: every item of the build, with components and transforms applied, in the file's own unit.
 *
 * @throws MeshError `no-model`, `bad-syntax`, `bad-number`, `bad-index`, `archive-too-large`, `bad-archive`
 */
export function readThreeMf(
  bytes: Uint8Array,
  context: RunContext,
): { objects: ThreeMfObject[]; unit: StatedUnit; words: FileWords } {
  const files = readArchive(bytes, (name) => /\.model$/i.test(name) || name === '_rels/.rels');
  const rels = files.get('_rels/.rels');
  let root = rels && modelOf(rels);
  if (!root || !files.has(root))
    root =
      [...files.keys()].find((name) => /^3D\/3dmodel\.model$/i.test(name)) ??
      [...files.keys()].find((name) => /\.model$/i.test(name));
  if (!root)
    throw new MeshError(
      'no-model',
      'The archive holds no 3D model (no .model part).',
      'Is it a plain ZIP? Unpack it and import the mesh inside.',
    );
  const models = new Map<string, Model>();
  const load = (path: string): Model => {
    let model = models.get(path);
    if (!model) {
      const part = files.get(path);
      if (!part)
        throw new MeshError(
          'no-model',
          `The model refers to "${path.slice(0, 80)}", which is not in the archive.`,
          again,
        );
      model = parseModel(part, path, context);
      models.set(path, model);
    }
    return model;
  };
  const main = load(root);
  const out: ThreeMfObject[] = [];
  const placed = { placements: 0, triangles: 0, vertices: 0 };
  const count = (what: keyof typeof placed, more: number): void => {
    placed[what] += more;
    if (placed[what] > threeMfLimits[what])
      throw new MeshError(
        'archive-too-large',
        `The build repeats its objects to more than ${threeMfLimits[what].toLocaleString('en-GB').replace(/,/g, ' ')} ${what}.`,
        'Take repeated copies out of it in the program that made it.',
      );
  };
  /** Meshes of a component and of what it holds, in place. */
  const place = (component: Component, outer: Transform, depth: number, into: TriMesh[]): void => {
    count('placements', 1);
    if ((placed.placements & 255) === 0) context.checkCancelled();
    if (depth > threeMfLimits.depth)
      throw new MeshError('bad-syntax', `Object ${component.id} contains itself.`, again);
    const object = load(component.path).objects.get(component.id);
    if (!object)
      throw new MeshError(
        'bad-index',
        `The build asks for object ${component.id}, which ${component.path} does not have.`,
        again,
      );
    if (object.type === 'support' || object.type === 'other') return;
    const transform = compose(component.transform, outer);
    if (object.mesh && object.mesh.triangles.length > 0) {
      count('triangles', object.mesh.triangles.length / 3);
      count('vertices', object.mesh.positions.length / 3);
      into.push(transformed(object.mesh, transform, `object ${component.id}`));
    }
    for (const inner of object.components) place(inner, transform, depth + 1, into);
  };
  const items =
    main.items.length > 0
      ? main.items
      : [...main.objects.keys()].map((id) => ({ path: root, id, transform: identity }));
  items.forEach((item, i) => {
    const meshes: TriMesh[] = [];
    place(item, identity, 0, meshes);
    if (meshes.length === 0) return;
    const model = load(item.path);
    const object = model.objects.get(item.id)!;
    const colour = object.colour && model.colours.get(object.colour.group)?.[object.colour.index];
    out.push({ name: object.name || `object ${i + 1}`, mesh: concatMeshes(meshes), colour: colour || null });
  });
  return { objects: out, unit: main.unit, words: main.words };
}

/** Text as it may stand in XML 1.0: without what no document may hold (section 2.2), marks as references. */
const escape = (text: string): string =>
  [...text]
    .filter((c) => (c >= ' ' || '\t\n\r'.includes(c)) && c !== '\ufffe' && c !== '\uffff')
    .join('')
    .replace(/[<>&"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** What brings them into the positive octant, where the build is to be (core specification, 3.4.3), all by the same way. */
function intoOctant(meshes: readonly TriMesh[]): string {
  const least = [0, 0, 0];
  for (const { positions, triangles } of meshes)
    if (triangles.length > 0)
      boundsOf({ positions, triangles }).min.forEach((x, k) => (least[k] = Math.min(least[k], x)));
  return least.every((x) => x === 0) ? '' : ` transform="1 0 0 0 1 0 0 0 1 ${least.map((x) => -x).join(' ')}"`;
}

/**
 * A 3MF of named meshes, each an object and an item of the build; the same meshes give the same bytes. Objects stand in
 * the coordinates of their meshes, and the build all of them in the positive octant, as they lie to one another.
 *
 * @param words of the work, where they are known
 */
export function writeThreeMf(
  objects: readonly { name: string; mesh: TriMesh }[],
  words: Partial<FileWords> = {},
): Uint8Array {
  const parts: string[] = [
    '<?xml version="1.0" encoding="UTF-8"?>\n<model unit="millimeter" xml:lang="en-US" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">\n',
    ...Object.entries(wordNames)
      .filter(([, word]) => words[word])
      .map(([name, word]) => `<metadata name="${name}">${escape(words[word]!)}</metadata>\n`),
    '<resources>\n',
  ];
  const placed = intoOctant(objects.map((o) => o.mesh));
  objects.forEach(({ name, mesh: { positions: p, triangles: t } }, i) => {
    parts.push(`<object id="${i + 1}" type="model" name="${escape(name)}"><mesh><vertices>\n`);
    for (let v = 0; v < p.length; v += 3)
      parts.push(`<vertex x="${digits(p[v])}" y="${digits(p[v + 1])}" z="${digits(p[v + 2])}"/>\n`);
    parts.push('</vertices><triangles>\n');
    for (let k = 0; k < t.length; k += 3) {
      const [a, b, c] = [t[k], t[k + 1], t[k + 2]];
      if (a !== b && b !== c && c !== a) parts.push(`<triangle v1="${a}" v2="${b}" v3="${c}"/>\n`);
    }
    parts.push('</triangles></mesh></object>\n');
  });
  parts.push(
    '</resources>\n<build>\n',
    ...objects.map((_, i) => `<item objectid="${i + 1}"${placed}/>\n`),
    '</build>\n</model>\n',
  );
  const encode = (s: string) => new TextEncoder().encode(s);
  return writeArchive({
    '[Content_Types].xml': encode(
      '<?xml version="1.0" encoding="UTF-8"?>\n<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>\n',
    ),
    '_rels/.rels': encode(
      '<?xml version="1.0" encoding="UTF-8"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>\n',
    ),
    '3D/3dmodel.model': encode(parts.join('')),
  });
}
