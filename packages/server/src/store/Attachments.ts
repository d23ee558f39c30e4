import { asc, eq } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import type { AttachmentView } from '@jasmorphe/contracts/kitViews';
import { Refusal } from './Refusal.ts';
import type { Reading } from './database.ts';
import { attachments } from './schema.ts';
import type { Writer } from './Writer.ts';

/** What pictures are sent as, by the ending of their name. */
const mediaTypes: Readonly<Record<string, string>> = {
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  png: 'image/png',
  webp: 'image/webp',
};

/** What a picture of that name is sent as; empty where it is none. */
export const mediaTypeOf = (name: string): string => mediaTypes[/\.([^.]+)$/.exec(name)?.[1].toLowerCase() ?? ''] ?? '';

/** Photos and notes of projects, pieces and parts. */
export class Attachments {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {}

  async ofProject(projectId: string): Promise<AttachmentView[]> {
    return this.db.query.attachments.findMany({
      where: eq(attachments.projectId, projectId),
      orderBy: [asc(attachments.createdAt), asc(attachments.id)],
    });
  }

  /** @throws Refusal `not-found` */
  async one(id: string): Promise<AttachmentView> {
    const row = await this.db.query.attachments.findFirst({ where: eq(attachments.id, id) });
    if (!row) throw Refusal.notFound('photo or note', id);
    return row;
  }

  /** @throws Refusal `bad-upload` when it is no picture by its name */
  async addPhoto(
    projectId: string,
    bodyId: string | null,
    hash: string,
    name: string,
    text: string,
  ): Promise<AttachmentView> {
    const mediaType = mediaTypeOf(name);
    if (mediaType === '')
      throw new Refusal('request', 'bad-upload', 'A photo is a JPEG, PNG or WebP file.', 'Save it as one of those.');
    return this.add({ projectId, bodyId, kind: 'photo', text, hash, mediaType, name });
  }

  async addNote(projectId: string, bodyId: string | null, text: string, name = ''): Promise<AttachmentView> {
    return this.add({ projectId, bodyId, kind: 'note', text, hash: null, mediaType: '', name });
  }

  private async add(row: Omit<AttachmentView, 'id' | 'createdAt'>): Promise<AttachmentView> {
    const view = { id: randomUUID(), ...row, createdAt: new Date().toISOString() };
    await this.writer.commit('photo or note', [this.db.insert(attachments).values(view)], {
      projects: [row.projectId],
      bodies: row.bodyId ? [row.bodyId] : [],
      sources: row.hash ? [row.hash] : [],
    });
    return view;
  }

  async change(id: string, text: string): Promise<AttachmentView> {
    const view = await this.one(id);
    await this.writer.commit('photo or note', [
      this.db.update(attachments).set({ text }).where(eq(attachments.id, id)),
    ]);
    return { ...view, text };
  }

  async remove(id: string): Promise<void> {
    await this.one(id);
    await this.writer.commit('photo or note', [this.db.delete(attachments).where(eq(attachments.id, id))]);
  }
}
