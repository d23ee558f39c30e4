import { useNavigate, useParams } from 'react-router';
import { TopBar } from '../app/TopBar.tsx';
import { useAddressNote } from '../app/useAddressNote.ts';
import { useTitle } from '../app/useTitle.ts';
import { Toggles } from '../ui/Toggles.tsx';
import { Bodies, Places } from './Libraries.tsx';
import { Materials } from './Materials.tsx';
import { Printers } from './Printers.tsx';
import { Backups, SettingsForm } from './SettingsForms.tsx';

/** What there is of the workshop, by its word in the address. */
const rooms = {
  printers: { title: 'Printers', Room: Printers },
  materials: { title: 'Materials', Room: Materials },
  places: { title: 'Places', Room: Places },
  bodies: { title: 'Bodies', Room: Bodies },
  settings: { title: 'Settings', Room: SettingsForm },
  backups: { title: 'Save everything', Room: Backups },
} as const;
type RoomId = keyof typeof rooms;
const roomIds = Object.keys(rooms) as RoomId[];

/** The maker's own printers, materials, places, bodies and choices. */
export default function WorkshopPage() {
  const { room: given } = useParams();
  const navigate = useNavigate();
  const id = roomIds.find((r) => r === given) ?? 'printers';
  useAddressNote(given !== undefined && given !== id ? `The workshop has no "${given.slice(0, 40)}".` : null);
  const { title, Room } = rooms[id];
  useTitle(title);
  return (
    <div className="page">
      <TopBar>
        <b>Workshop</b>
      </TopBar>
      <main className="shelf workshop">
        <Toggles
          label="Part of the workshop"
          choices={roomIds.map((value) => ({ value, text: rooms[value].title }))}
          on={[id]}
          onToggle={(to) => void navigate(`/workshop/${to}`)}
        />
        <Room key={id} />
      </main>
    </div>
  );
}
