/** The one shape of every error. */
export interface ErrorBody {
  error: { code: string; message: string; hint: string; field?: string };
}
