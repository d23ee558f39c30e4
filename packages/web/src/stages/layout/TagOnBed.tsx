/** A tag in the middle of its part on a drawn bed: the name of its model, where it has one, small above it. */
export function TagOnBed({ tag, size, marked = false }: { tag: string; size: number; marked?: boolean }) {
  const at = tag.lastIndexOf(' ');
  const name = tag.slice(0, Math.max(0, at));
  const own = `${tag.slice(at + 1)}${marked ? ' !' : ''}`;
  const px = size * Math.min(1, plainLetters / own.length);
  return (
    <text textAnchor="middle" dominantBaseline="central" fontSize={px} fontWeight={600} fill="var(--ink)">
      {name !== '' && (
        <tspan x={0} dy={-0.4 * size} fontSize={0.55 * size} fontWeight={400}>
          {name.length > mostLetters ? `${name.slice(0, mostLetters - 1)}…` : name}
        </tspan>
      )}
      <tspan x={0} dy={name === '' ? 0 : 0.4 * size + 0.35 * px}>
        {own}
      </tspan>
    </text>
  );
}
const mostLetters = 14;
/** Longer ones are written smaller. */
const plainLetters = 5;
