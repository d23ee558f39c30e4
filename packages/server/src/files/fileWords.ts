import type { FileWords } from '@jasmorphe/core/formats/threeMf';
import { licences, termsOf, type LicenceId } from '@jasmorphe/core/trade/licences';
import type { Work } from '../store/Kits.ts';
import type { SourceWords } from '../store/schema.ts';

/** Whence a piece is and its terms in words: its own, or its project's. */
export function originOf(piece: Work, project: Work): { source: Partial<SourceWords>; terms: LicenceId; says: string } {
  const terms = termsOf(piece, project);
  return {
    source: Object.values(piece.source).some(Boolean) ? piece.source : project.source,
    terms,
    says: [terms === 'words' ? '' : licences[terms].name, piece.licence || project.licence].filter(Boolean).join(': '),
  };
}

/** What a file of these pieces of a project says of itself. What nobody said of any of them is left out. */
export function fileWordsOf(pieces: readonly Work[], project: Work): FileWords {
  const origins = pieces.map((piece) => originOf(piece, project));
  const each = (all: (string | undefined)[]) => [...new Set(all.filter(Boolean))].join('; ');
  const names = each(pieces.map((p) => p.name).filter((name) => name !== project.name));
  return {
    title: names ? `${project.name}: ${names}` : project.name,
    designer: each(origins.map((o) => o.source.by)),
    licence: each(origins.filter((o) => o.terms !== 'unknown').map((o) => o.says)),
  };
}
