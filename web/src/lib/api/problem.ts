/** What the server, or the way to it, failed with. */

export class ApiError extends Error {
  constructor(
    /** HTTP status; 0 where the server was not reached. */
    readonly status: number,
    message: string,
    /** The problem's type, such as `edit-refused`. */
    readonly kind = 'about:blank',
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
  retry_after_s?: number;
}

/** A header that every answer of ours has. */
const OURS = 'x-zealous-lane';

/** What a proxy, or a network that wants a sign-in of its own, says in the server's place: the server was not reached. */
const stranger = (retryAfterMs?: number) =>
  new ApiError(
    0,
    'Something on the way answers in place of the server. Does this network ask for a sign-in?',
    undefined,
    retryAfterMs,
  );

/** Refuses an answer that is not the server's. */
export function ours(response: Response): Response {
  if (!response.headers.has(OURS)) throw stranger();
  return response;
}

/** The failure that an answer tells of. */
export async function failureOf(response: Response): Promise<ApiError> {
  const problem: Problem = (await response.json().catch(() => undefined)) ?? {};
  const detail = problem.detail ?? `The server answered ${response.status} without a word.`;
  const after = problem.retry_after_s === undefined ? undefined : problem.retry_after_s * 1000;
  // Every refusal of ours has words.
  if (response.status < 500 && problem.detail === undefined) return stranger(after);
  return new ApiError(response.status, detail, problem.type, after);
}
