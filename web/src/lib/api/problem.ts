/** What the server, or the way to it, failed with. */
import type { OpenSession } from './types';

export class ApiError extends Error {
  constructor(
    /** HTTP status; 0 where the server was not reached. */
    readonly status: number,
    message: string,
    /** The problem's type, such as `edit-refused`. */
    readonly kind = 'about:blank',
    /** With 409 on a change: the session as it stands. */
    readonly current?: OpenSession,
    /** After which it is worth trying again. */
    readonly retryAfterMs?: number,
  ) {
    super(message);
  }

  /** The message as the reason in a longer sentence. */
  get reason(): string {
    return this.message.replace(/^Not done: /, '').replace(/\.$/, '');
  }
}

interface Problem {
  type?: string;
  detail?: string;
  current?: OpenSession;
  retry_after_s?: number;
}

/** The failure that an answer tells of. */
export async function failureOf(response: Response): Promise<ApiError> {
  const problem: Problem = await response.json().catch(() => ({}));
  const detail = problem.detail ?? `The server answered ${response.status} without a word.`;
  const after = problem.retry_after_s === undefined ? undefined : problem.retry_after_s * 1000;
  return new ApiError(response.status, detail, problem.type, problem.current, after);
}
