/** Says how far a run is, and from its first seconds on how long it may still take. */
export function progressLine(write: (text: string) => void, now: () => number = () => performance.now()) {
  const began = now();
  let last = '';
  return {
    say(fraction: number, phase: string): void {
      const spent = now() - began;
      // before that much is known too little to foretell the rest
      const left = spent > 2000 && fraction > 0.05 && fraction < 1 ? (spent / fraction - spent) / 1000 : null;
      const time =
        left === null
          ? ''
          : ` · about ${left < 90 ? `${Math.max(1, Math.round(left))} s` : `${Math.round(left / 60)} min`} left`;
      const line = `${String(Math.round(100 * fraction)).padStart(3)} % ${phase}${time}`;
      if (line !== last) write(`\r\u001b[K${(last = line)}`);
    },
    clear(): void {
      if (last !== '') write('\r\u001b[K');
      last = '';
    },
  };
}
