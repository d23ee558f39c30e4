import { eq, lt } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import type { Reading, Statement } from './database.ts';
import { Refusal } from './Refusal.ts';
import { answers } from './schema.ts';
import type { Writer } from './Writer.ts';

/** How long a word is known by its key, ms: a telephone in a drawer is not offline for longer. */
const keptMs = 30 * 86_400_000;

/** When something happened, as its sender tells it, and the sender's own key of the word: said again by that key it is done once. */
export interface Told {
  /** ISO 8601; now if left out */
  at?: string;
  key?: string;
}

/** What goes into the change that a word makes, so that it is known from then on. */
export interface Once {
  beside: Statement[];
  /** asked while nothing else is written */
  holds: () => Promise<void>;
}

type AnswerRow = typeof answers.$inferSelect;

/** How a word is done. */
interface Done<T> {
  /** id of what is made by it */
  about: string;
  /** makes the change */
  act: (once: Once) => Promise<void>;
  /** what is answered, of what stands by then */
  answer: (about: string) => Promise<T>;
}

/** Words that came with a key, and what was answered to them. */
export class Answers {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
  ) {}

  /**
   * Does what is said once and answers it; said again by the same key it gets the same answer, and nothing is done. What was
   * refused is not known by its key: it may well be right later.
   *
   * @param what is said, in a form that JSON has
   * @throws Refusal `key-used` where something else was said by that key
   */
  async once<T>(key: string | undefined, what: readonly unknown[], { about, act, answer }: Done<T>): Promise<T> {
    if (key === undefined) {
      await act({ beside: [], holds: () => Promise.resolve() });
      return answer(about);
    }
    const told = async (row: AnswerRow): Promise<T> => (row.answer as T | null) ?? answer(row.about);
    const asked = createHash('sha256').update(JSON.stringify(what)).digest('hex');
    const before = await this.known(key, asked);
    // where the process ended between the change and its answer, it is answered by what stands now
    if (before) return told(before);
    const at = new Date();
    const row = { key, asked, about, at: at.toISOString() };
    try {
      await act({
        beside: [
          this.db.delete(answers).where(lt(answers.at, new Date(at.getTime() - keptMs).toISOString())),
          this.db.insert(answers).values(row),
        ],
        holds: async () => {
          if (await this.known(key, asked)) throw new Error('said by the same key meanwhile');
        },
      });
    } catch (error) {
      // the same word came twice at once: whatever stands in the way of the second, it is the first
      const first = await this.known(key, asked);
      if (!first) throw error;
      return told(first);
    }
    const given = await answer(about);
    await this.writer.note([this.db.update(answers).set({ answer: given }).where(eq(answers.key, key))]);
    return given;
  }

  private async known(key: string, asked: string): Promise<AnswerRow | null> {
    const [row] = await this.db.select().from(answers).where(eq(answers.key, key));
    if (row && row.asked !== asked)
      throw new Refusal(
        'request',
        'key-used',
        'Something else was said by this key before.',
        'Give each word a key of its own; the same word said again keeps its key.',
        'Idempotency-Key',
      );
    return row ?? null;
  }
}
