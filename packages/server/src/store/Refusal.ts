/**
 * Why something that was asked for is not done: it names what is not there, it does not go with what stands by now, or it is
 * nothing that can be done.
 */
export type RefusalKind = 'unknown' | 'state' | 'request';

/** A refusal in words: what stands in the way, and what to do about it. Nothing was changed. */
export class Refusal extends Error {
  constructor(
    readonly kind: RefusalKind,
    readonly code: string,
    message: string,
    readonly hint = '',
    /** the field of the request that it is about */
    readonly field?: string,
  ) {
    super(message);
    this.name = 'Refusal';
  }

  static notFound(what: string, id: string): Refusal {
    return new Refusal(
      'unknown',
      'not-found',
      `There is no ${what} "${id.slice(0, 80)}".`,
      'It may have been removed. Go back to the shelf.',
    );
  }
}
