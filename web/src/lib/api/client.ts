/** The server's interface, typed. Every failure is an [`ApiError`] with a sentence for people. */
import type {
  BroughtIn,
  BroughtSound,
  Created,
  Credentials,
  DemoAccount,
  Edit,
  EditDone,
  Family,
  LibraryLine,
  LoopCuts,
  Me,
  NewSession,
  NewPreset,
  NewTemplate,
  OpenSession,
  OpenTemplate,
  PresetChange,
  PresetLine,
  RenderLine,
  SessionLine,
  TakeSound,
  TemplateChange,
  TemplateLine,
  Tuning,
} from './types';

export class ApiError extends Error {
  constructor(
    /** HTTP status; 0 where the server was not reached. */
    readonly status: number,
    message: string,
    /** With 409 on an edit: the session as it stands. */
    readonly current?: OpenSession,
  ) {
    super(message);
  }
}

interface Problem {
  detail?: string;
  current?: OpenSession;
}

async function failure(response: Response): Promise<ApiError> {
  if (response.status === 429)
    return new ApiError(429, 'Too many tries. Wait a few seconds, then try again.');
  const problem: Problem = await response.json().catch(() => ({}));
  return new ApiError(
    response.status,
    problem.detail ?? `The server said ${response.status}.`,
    problem.current,
  );
}

async function call(method: string, path: string, body?: BodyInit, type?: string, signal?: AbortSignal) {
  const headers: HeadersInit = type ? { 'content-type': type } : {};
  let response: Response;
  try {
    response = await fetch(path, { method, headers, body, signal });
  } catch (cause) {
    if (signal?.aborted) throw cause;
    throw new ApiError(0, 'The server cannot be reached. Nothing is lost; it is tried again.');
  }
  if (!response.ok) throw await failure(response);
  return response;
}

async function json<T>(method: string, path: string, body?: unknown): Promise<T> {
  const response =
    body === undefined
      ? await call(method, path)
      : await call(method, path, JSON.stringify(body), 'application/json');
  return (response.status === 204 ? undefined : await response.json()) as T;
}

const binary = 'application/octet-stream';

export const api = {
  me: () => json<Me>('GET', '/api/me'),
  demoAccount: () => json<DemoAccount>('GET', '/api/demo-account'),
  signIn: (body: Credentials) => json<Me>('POST', '/api/login', body),
  signUp: (body: Credentials) => json<Me>('POST', '/api/accounts', body),
  signOut: () => json<void>('POST', '/api/logout'),

  sessions: () => json<SessionLine[]>('GET', '/api/sessions'),
  newSession: (body: NewSession) => json<Created>('POST', '/api/sessions', body),
  session: (id: string) => json<OpenSession>('GET', `/api/sessions/${id}`),
  removeSession: (id: string) => json<void>('DELETE', `/api/sessions/${id}`),
  edit: (id: string, base_revision: number, edit: Edit) =>
    json<EditDone>('POST', `/api/sessions/${id}/edits`, { base_revision, edit }),
  undo: (id: string) => json<EditDone>('POST', `/api/sessions/${id}/undo`),
  redo: (id: string) => json<EditDone>('POST', `/api/sessions/${id}/redo`),
  events: (id: string) => new EventSource(`/api/sessions/${id}/events`),
  folderUrl: (id: string) => `/api/sessions/${id}/folder`,
  importFolder: async (file: File): Promise<Created> =>
    (await call('POST', '/api/session-folders', file, 'application/zip')).json(),

  templates: () => json<TemplateLine[]>('GET', '/api/templates'),
  /** A template whole; with a session, at that session's sample rate. */
  template: (id: string, session?: string) =>
    json<OpenTemplate>('GET', `/api/templates/${id}${session ? `?session=${session}` : ''}`),
  newTemplate: (body: NewTemplate) => json<Created>('POST', '/api/templates', body),
  changeTemplate: (id: string, body: TemplateChange) => json<void>('PUT', `/api/templates/${id}`, body),
  removeTemplate: (id: string) => json<void>('DELETE', `/api/templates/${id}`),
  startFrom: (id: string, body: NewSession) => json<Created>('POST', `/api/templates/${id}/sessions`, body),
  templateUrl: (id: string) => `/api/templates/${id}/file`,
  presets: () => json<PresetLine[]>('GET', '/api/presets'),
  newPreset: (body: NewPreset) => json<Created>('POST', '/api/presets', body),
  changePreset: (id: string, body: PresetChange) => json<void>('PUT', `/api/presets/${id}`, body),
  removePreset: (id: string) => json<void>('DELETE', `/api/presets/${id}`),
  importTemplate: async (file: File): Promise<Created> =>
    (await call('POST', '/api/template-files', file, 'application/zip')).json(),

  bringIn: async (id: string, file: File, name: string, signal?: AbortSignal): Promise<BroughtIn> =>
    (
      await call(
        'POST',
        `/api/sessions/${id}/bring-in?name=${encodeURIComponent(name)}`,
        file,
        binary,
        signal,
      )
    ).json(),
  asset: async (id: string): Promise<ArrayBuffer> => (await call('GET', `/api/assets/${id}`)).arrayBuffer(),

  takeSounds: (id: string, take: number) =>
    json<TakeSound[]>('GET', `/api/sessions/${id}/takes/${take}/sounds`),
  library: (search: string, family: Family | '') =>
    json<LibraryLine[]>(
      'GET',
      `/api/library?search=${encodeURIComponent(search)}${family && `&family=${family}`}`,
    ),
  houseSounds: () => json<void>('POST', '/api/library/house'),
  useSound: (id: string, asset: string) => json<BroughtSound>('POST', `/api/sessions/${id}/sounds/${asset}`),
  tuning: (id: string, kick: number, bass: number | undefined) =>
    json<Tuning>(
      'GET',
      `/api/sessions/${id}/tuning?kick=${kick}${bass === undefined ? '' : `&bass=${bass}`}`,
    ),
  loopCuts: (id: string, voice: number, sensitivity: number) =>
    json<LoopCuts>('GET', `/api/sessions/${id}/loop?voice=${voice}&sensitivity=${sensitivity}`),
  midiUrl: (id: string) => `/api/sessions/${id}/midi`,

  startRender: (id: string) => json<Created>('POST', `/api/sessions/${id}/renders`),
  renders: (id: string) => json<RenderLine[]>('GET', `/api/sessions/${id}/renders`),
  cancelRender: (id: string) => json<void>('POST', `/api/renders/${id}/cancel`),
  zipUrl: (id: string) => `/api/renders/${id}/zip`,
};
