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

/** The failure that an answer tells of. */
export async function failureOf(response: Response): Promise<ApiError> {
  const problem: Problem = await response.json().catch(() => ({}));
  const detail = problem.detail ?? `The server answered ${response.status} without a word.`;
  const after = problem.retry_after_s === undefined ? undefined : problem.retry_after_s * 1000;
  return new ApiError(response.status, detail, problem.type, after);
}
