import { afterEach, describe, expect, test, vi } from 'vitest';
import { api } from './client';
import { ApiError, failureOf } from './problem';

const answer = (status: number, body: string) => new Response(body, { status });

describe('what a failure says', () => {
  test('is what the server said, with its type and when to come again', async () => {
    const body = { type: 'edit-refused', detail: 'Not done: it feeds itself.', retry_after_s: 1.5 };
    const failure = await failureOf(answer(422, JSON.stringify(body)));
    expect(failure).toMatchObject({
      status: 422,
      kind: 'edit-refused',
      message: 'Not done: it feeds itself.',
      retryAfterMs: 1500,
    });
    expect(failure.reason).toBe('it feeds itself');
  });

  test.each(['', '<html>', '[1, 2', '{}'])('is the status where the body is "%s"', async (body) => {
    const failure = await failureOf(answer(502, body));
    expect(failure.message).toBe('The server answered 502 without a word.');
    expect(failure).toMatchObject({ kind: 'about:blank', retryAfterMs: undefined });
  });

  test('may be tried again at once', async () => {
    expect((await failureOf(answer(429, '{"retry_after_s":0}'))).retryAfterMs).toBe(0);
  });

  test('is a reason in a longer sentence', () => {
    expect(new ApiError(0, 'The server cannot be reached.').reason).toBe('The server cannot be reached');
  });
});

describe('what answers in place of the server', () => {
  afterEach(() => void vi.unstubAllGlobals());
  const ours = { 'x-zealous-lane': '1' };

  test.each([
    ['a page of a hotel', 200, '<html>Sign in</html>', {}],
    ['JSON of somebody else', 200, '{"login":true}', {}],
    ['a refusal by a proxy', 403, '<html>Blocked</html>', {}],
    ['a redirect that was followed', 204, null, {}],
    ['an answer of ours that broke off', 200, '{"id":"a","revi', ours],
  ])('%s is as if it was not reached, so that what waits is sent again', async (_, status, body, headers) => {
    vi.stubGlobal('fetch', () => Promise.resolve(new Response(body, { status, headers })));
    const edit = api.edit('s', { id: 'e', base_revision: 1, edit: { kind: 'batch', edits: [] } });
    await expect(edit).rejects.toMatchObject({ status: 0 });
  });

  test('an answer of ours is one', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(new Response('[]', { headers: ours })));
    await expect(api.sessions()).resolves.toEqual([]);
  });
});
