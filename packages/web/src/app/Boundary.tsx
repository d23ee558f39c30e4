import Button from '@mui/material/Button';
import { Component, useEffect, useRef, useState, type ComponentType, type ReactNode } from 'react';
import { Note } from '../ui/Note.tsx';
import { useAppSelector } from './store.ts';
import { Actions } from '../ui/layout.ts';

/** What can be done about a piece that is not there. */
function Ways({ again }: { again: () => void }) {
  return (
    <Actions>
      <Button variant="outlined" onClick={again}>
        Try again
      </Button>
      <Button variant="contained" onClick={() => location.reload()}>
        Reload the page
      </Button>
    </Actions>
  );
}

/** What stands where a piece of the page should be that could not be fetched. */
function NotFetched({ again }: { again: () => void }) {
  const link = useAppSelector((s) => s.ui.link);
  const wasDown = useRef(link === 'down');
  useEffect(() => {
    // the server is back: what failed for want of it may work now
    if (link === 'up' && wasDown.current) again();
    wasDown.current = link === 'down';
  }, [link, again]);
  return (
    <Note tone="failure" role="alert" data-testid="not-fetched">
      <b>A piece of the page could not be fetched.</b> The server was stopped, or has a newer page by now. Nothing was
      lost.
      <Ways again={again} />
    </Note>
  );
}

/** A component that can be fetched before it is drawn. */
export type LazyPart<P extends object> = ((props: P) => ReactNode) & { fetch: () => Promise<void> };

/**
 * A component in a file of its own that is fetched when it is first drawn. If that fails, it says so in its place and can
 * be tried again; the rest of the page stands.
 */
export function lazyPart<P extends object>(
  load: () => Promise<{ default: ComponentType<P> }>,
  waiting: ReactNode = null,
): LazyPart<P> {
  let fetched: ComponentType<P> | null = null;
  function Part(props: P) {
    const [Shown, setShown] = useState<ComponentType<P> | null>(() => fetched);
    const [failed, setFailed] = useState(false);
    useEffect(() => {
      if (Shown || failed) return;
      let alive = true;
      load().then(
        (m) => {
          fetched = m.default;
          if (alive) setShown(() => m.default);
        },
        () => alive && setFailed(true),
      );
      return () => void (alive = false);
    }, [Shown, failed]);
    if (Shown) return <Shown {...props} />;
    return failed ? <NotFetched again={() => setFailed(false)} /> : waiting;
  }
  return Object.assign(Part, { fetch: async () => void (fetched = (await load()).default) });
}

/** Keeps the rest of the page when a piece of it breaks. */
export class Boundary extends Component<{ of: string; children: ReactNode }, { broken: Error | null }> {
  override state = { broken: null as Error | null };

  static getDerivedStateFromError(broken: Error) {
    return { broken };
  }

  override componentDidCatch(error: Error) {
    console.error(`${this.props.of} broke:`, error);
  }

  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <Note tone="failure" role="alert">
        <b>{this.props.of} cannot be shown.</b> {this.state.broken.message} Nothing was lost: what was done is kept by
        the server.
        <Ways again={() => this.setState({ broken: null })} />
      </Note>
    );
  }
}
