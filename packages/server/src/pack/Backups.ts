import type { BackupView } from '@jasmorphe/contracts/kitViews';
import { Gate } from '../store/Gate.ts';
import type { Library } from '../store/Library.ts';
import { backUp, restoreInto } from './backup.ts';

/** Backups of data that are in use. */
export class Backups {
  /** one at a time: two would write into one folder */
  private readonly saving = new Gate();

  constructor(private readonly library: Library) {}

  /** Saves everything into a folder. */
  make(folder: string): Promise<BackupView> {
    const { database, blobs } = this.library;
    return this.saving.run(() => backUp(database, blobs, folder));
  }

  /** Puts a backup in the place of everything, while nothing else is changed. Jobs must have ended. */
  restore(folder: string, anyway: boolean): ReturnType<typeof restoreInto> {
    const { database, blobs, writer } = this.library;
    return writer.alone(() => restoreInto(database, blobs, folder, anyway));
  }
}
