import type { QueryOf } from '@jasmorphe/contracts/routes';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ProjectSummary } from '@jasmorphe/contracts/views';
import { hrefOf } from '../app/addresses.ts';
import { useChangeProjectMutation, useRemoveProjectMutation, wordsOf } from '../app/api.ts';
import { useBringBackMutation, useCopyProjectMutation, useRemoveForeverMutation } from '../app/kitApi.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useAppDispatch } from '../app/store.ts';
import { say } from '../app/uiSlice.ts';
import { partOf } from './shelfOrder.ts';
import { MoreIcon } from '../ui/icons.tsx';

const AskWord = lazyPart(() => import('../ui/AskWord.tsx'));

/** Whatever came back from the server, if it was a refusal. */
type Came = { error?: unknown };

/** What can be done with a whole project. */
export function ProjectMenu({ project, onAbout }: { project: ProjectSummary; onAbout: () => void }) {
  const dispatch = useAppDispatch();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [asked, setAsked] = useState(false);
  const [change] = useChangeProjectMutation();
  const [copy] = useCopyProjectMutation();
  const [remove] = useRemoveProjectMutation();
  const [bringBack] = useBringBackMutation();
  const [forever] = useRemoveForeverMutation();
  const { id, name } = project;
  const part = partOf(project);
  const doing =
    (act: () => PromiseLike<Came>, said: string, hint = '') =>
    async () => {
      setAt(null);
      const { error } = await act();
      if (error) {
        const words = wordsOf(error);
        dispatch(say({ text: words.message, hint: words.hint, tone: 'failure' }));
      } else dispatch(say({ text: said, hint, tone: 'note' }));
    };
  const packOf = (query?: Partial<QueryOf<'GET /projects/{id}/pack'>>) =>
    hrefOf('GET /projects/{id}/pack', { id }, query);
  const pack = async () => {
    setAt(null);
    // asked before it is fetched: what stands in the way is said here, and not in the file
    const answer = await fetch(packOf({ word: 'ask' })).catch(() => null);
    if (answer?.ok) return location.assign(packOf());
    const words = wordsOf({ data: (await answer?.json().catch(() => null)) as unknown });
    if (words.code === 'no-derivatives') setAsked(true);
    else dispatch(say({ text: words.message, hint: words.hint, tone: 'failure' }));
  };
  return (
    <>
      {asked && <AskWord href={packOf({ word: 'yes' })} of={name} onClose={() => setAsked(false)} />}
      <IconButton
        aria-label={`What to do with ${name}`}
        aria-haspopup="menu"
        sx={{ position: 'absolute', right: 6, top: 6, zIndex: 2 }}
        onClick={(e) => setAt(e.currentTarget)}
      >
        <MoreIcon fontSize="inherit" />
      </IconButton>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {part === 'removed'
          ? [
              <MenuItem key="back" onClick={() => void doing(() => bringBack(id), `"${name}" is back on the shelf.`)()}>
                Put it back on the shelf
              </MenuItem>,
              <MenuItem key="forever" onClick={() => void doing(() => forever(id), `"${name}" is gone for good.`)()}>
                Remove it for good
              </MenuItem>,
            ]
          : [
              <MenuItem
                key="about"
                onClick={() => {
                  setAt(null);
                  onAbout();
                }}
              >
                Name, source, photos and notes
              </MenuItem>,
              <MenuItem key="book" component={Link} to={`/project/${id}/book`}>
                Build book, for paper
              </MenuItem>,
              <MenuItem key="copy" onClick={() => void doing(() => copy(id), `"${name}" was copied.`)()}>
                Copy
              </MenuItem>,
              <MenuItem key="pack" onClick={() => void pack()}>
                Pack into one file
              </MenuItem>,
              <MenuItem
                key="archive"
                onClick={() =>
                  void doing(
                    () => change({ id, archived: part !== 'archived' }),
                    part === 'archived' ? `"${name}" is back on the shelf.` : `"${name}" is in the archive.`,
                  )()
                }
              >
                {part === 'archived' ? 'Back on the shelf' : 'Archive'}
              </MenuItem>,
              <MenuItem
                key="remove"
                onClick={() =>
                  void doing(
                    () => remove(id),
                    `"${name}" was taken off the shelf.`,
                    'For 30 days it can be put back, under "Taken off".',
                  )()
                }
              >
                Take it off the shelf
              </MenuItem>,
            ]}
      </Menu>
    </>
  );
}
