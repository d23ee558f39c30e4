/** Tags of parts are no longer than this, such as B12r1; names of models may be. */
const longestTag = 5;

/** What lies on a bed, in the order in which it is printed where it is printed one after the other. */
export function tagsText({ parts, inTurn }: { parts: readonly { tag: string }[]; inTurn: boolean }): string {
  const named = parts.some((p) => p.tag.length > longestTag);
  return parts.map((p) => p.tag).join(inTurn ? ' → ' : named ? ', ' : ' ');
}
