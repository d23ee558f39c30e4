import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import NativeSelect from '@mui/material/NativeSelect';
import OutlinedInput from '@mui/material/OutlinedInput';
import { useCallback, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { isArchive, isPack } from '@jasmorphe/core/kit/pieceNames';
import { stops } from '@jasmorphe/core/operations/Description';
import { countOf } from '@jasmorphe/core/words/numbers';
import { useCreateProjectMutation, useHealthQuery, useShelfQuery, wordsOf } from '../app/api.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useUnpackMutation } from '../app/kitApi.ts';
import { useAppDispatch } from '../app/store.ts';
import { say } from '../app/uiSlice.ts';
import { isOpen, useJobs } from '../app/useJobs.ts';
import { useTitle } from '../app/useTitle.ts';
import { TopBar } from '../app/TopBar.tsx';
import { JobLine } from '../jobs/JobsTray.tsx';
import { DropSheet } from '../project/DropSheet.tsx';
import { FilePicker } from '../project/FilePicker.tsx';
import { projectNameOf } from '../project/projectName.ts';
import { useImport } from '../project/useImport.ts';
import { zipNames } from '../project/zipNames.ts';
import { Note } from '../ui/Note.tsx';
import { Toggles } from '../ui/Toggles.tsx';
import { ProjectCard } from './ProjectCard.tsx';
import { onShelf, partOf, shelfParts, shelfSorts, type ShelfPart, type ShelfSort } from './shelfOrder.ts';

const AboutProject = lazyPart(() => import('../about/AboutProject.tsx'));

/** The archive of a project, whatever it is called by now; one that is cut off is told by its name. */
const isPackFile = async (file: File): Promise<boolean> =>
  /\.jasmorphe( ?\(\d+\))?\.zip$/i.test(file.name) || (isArchive(file.name) && isPack(await zipNames(file)));

const partWords: Record<ShelfPart, string> = { shelf: 'On the shelf', archived: 'Archive', removed: 'Taken off' };
const sortWords: Record<ShelfSort, string> = {
  touched: 'last touched',
  name: 'name',
  made: 'newest',
  left: 'most left to print',
};

/** Files that are being read, each as far as it is. */
function Imports() {
  const imports = useJobs((jobs) => jobs.filter((j) => j.kind === 'import' && j.batchId === null && isOpen(j)));
  return imports.map((job) => <JobLine key={job.id} job={job} />);
}

/** Home: every project as a card, with what needs attention today. */
export function Shelf() {
  const { data: projects, error, isLoading } = useShelfQuery();
  const [create] = useCreateProjectMutation();
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const pick = useRef<() => void>(() => undefined);
  const { data: health } = useHealthQuery();
  useTitle('Shelf');
  const newProject = useCallback(
    async (files: File[]): Promise<string | null> => {
      const made = await create({ name: projectNameOf(files) });
      if (!made.data) return null;
      // many files are a kit
      const many = files.length > 1 || files.some((f) => /\.zip$/i.test(f.name));
      void navigate(`/project/${made.data.id}/${many ? 'kit' : stops[0]}`);
      return made.data.id;
    },
    [create, navigate],
  );
  const [unpack, { isLoading: unpacking }] = useUnpackMutation();
  const [chosen, setPart] = useState<ShelfPart>('shelf');
  const [sort, setSort] = useState<ShelfSort>('touched');
  const [looked, setLooked] = useState('');
  const [about, setAbout] = useState<string | null>(null);
  const target = useCallback(
    async (files: File[]): Promise<string | null> => {
      const packed = await Promise.all(files.map(isPackFile));
      const packs = files.filter((_, i) => packed[i]);
      if (packs.length === 0) return newProject(files);
      for (const file of packs) {
        const { data, error: refused } = await unpack(file);
        if (data) void navigate(`/project/${data.projectId}`);
        else dispatch(say({ text: wordsOf(refused).message, hint: wordsOf(refused).hint, tone: 'failure' }));
      }
      if (packs.length < files.length)
        dispatch(
          say({
            text: `${countOf(files.length - packs.length, 'file')} beside the packs of projects: nothing was done with them.`,
            hint: 'Drop them without the packs.',
            tone: 'failure',
          }),
        );
      return null;
    },
    [newProject, unpack, navigate, dispatch],
  );
  const { over, importFiles } = useImport(target);
  const has = (p: ShelfPart) => p === 'shelf' || (projects ?? []).some((x) => partOf(x) === p);
  // the last of a part may have been put back
  const part = has(chosen) ? chosen : 'shelf';
  const shown = onShelf(projects ?? [], part, looked, sort);
  return (
    <div className="page">
      <TopBar>
        <b>Shelf</b>
      </TopBar>
      <main className="shelf">
        <div className="shelfHead">
          <h1 className="question">{projects?.length === 0 ? 'The shelf is empty' : 'On the shelf'}</h1>
          <span className="shelfTools">
            {projects && projects.length > 1 && (
              <>
                <OutlinedInput
                  value={looked}
                  placeholder="name, note, piece"
                  inputProps={{ 'aria-label': 'Look for' }}
                  onChange={(e) => setLooked(e.target.value)}
                />
                <NativeSelect
                  value={sort}
                  inputProps={{ 'aria-label': 'In order of' }}
                  onChange={(e) => setSort(e.target.value as ShelfSort)}
                >
                  {shelfSorts.map((s) => (
                    <option key={s} value={s}>
                      {sortWords[s]}
                    </option>
                  ))}
                </NativeSelect>
              </>
            )}
            {shelfParts.filter(has).length > 1 && (
              <Toggles
                label="Part of the shelf"
                choices={shelfParts.filter(has).map((p) => ({ value: p, text: partWords[p] }))}
                on={[part]}
                onToggle={(p) => setPart(p)}
              />
            )}
          </span>
          <Button variant="contained" onClick={() => pick.current()}>
            Import a model
          </Button>
          <FilePicker open={pick} onFiles={(files) => void importFiles(files)} />
        </div>
        {error !== undefined && (
          <Note tone="failure">
            <b>{wordsOf(error).message}</b> {wordsOf(error).hint}
          </Note>
        )}
        {health?.problems.map((p) => (
          <Note key={p.code} tone="failure">
            <b>{p.message}</b> {p.hint}
          </Note>
        ))}
        {(isLoading || unpacking) && <LinearProgress aria-label="Loading" />}
        <Imports />
        {projects?.length === 0 && (
          <p className="quiet">
            Drop STL, OBJ, PLY or 3MF files, a folder of them or a ZIP anywhere on this page to begin a project.
          </p>
        )}
        <div className="cards">
          {shown.map((p) => (
            <ProjectCard key={p.id} project={p} onAbout={() => setAbout(p.id)} />
          ))}
        </div>
        {projects !== undefined && projects.length > 0 && shown.length === 0 && (
          <p className="quiet">{looked ? 'Nothing on the shelf is called that.' : 'Nothing stands here.'}</p>
        )}
        {about !== null && <AboutProject projectId={about} onClose={() => setAbout(null)} />}
      </main>
      {over && <DropSheet>Drop to begin a project</DropSheet>}
    </div>
  );
}
