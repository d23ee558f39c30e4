/** Stops of a print, to be set by hand where its layers are made. */
export function StopsHere({ stops }: { stops: readonly string[] }) {
  if (stops.length === 0) return null;
  return (
    <div data-testid="stops">
      It stops on the way. Set this in your layer program:
      <ul>
        {stops.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
    </div>
  );
}
