import { main } from '@jasmorphe/cli/main';

/** Runs the command line within this process: its exit code, and what it says on both outputs. */
export async function cli(...args: string[]): Promise<{ code: number; out: string; error: string }> {
  const said = { out: '', error: '' };
  const code = await main(args, {
    out: (t) => void (said.out += t),
    error: (t) => void (said.error += t),
    live: false,
  });
  return { code, ...said };
}
