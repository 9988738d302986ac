/** The server's interface, typed. Every failure is an [`ApiError`] with a sentence for people. */
import type {
  BroughtIn,
  BroughtSound,
  Created,
  Credentials,
  DemoAccount,
  EditDone,
  EditRequest,
  Family,
  HoldingsLine,
  LibraryLine,
  Me,
  NewSession,
  NewSnapshot,
  NewPreset,
  NewTemplate,
  OpenSession,
  OpenTemplate,
  PageFault,
  PresetChange,
  PresetLine,
  RenderLine,
  Session,
  SessionLine,
  StepLine,
  SnapshotChange,
  SnapshotLine,
  StepRequest,
  TakeSound,
  TemplateChange,
  TemplateLine,
} from './types';
import { ApiError, failureOf, ours } from './problem';

export { ApiError } from './problem';

async function call(method: string, path: string, body?: BodyInit, type?: string, signal?: AbortSignal) {
  const headers: HeadersInit = type ? { 'content-type': type } : {};
  let response: Response;
  try {
    response = await fetch(path, { method, headers, body, signal });
  } catch (cause) {
    if (signal?.aborted) throw cause;
    throw new ApiError(0, 'The server cannot be reached.');
  }
  if (!response.ok) throw await failureOf(response);
  return ours(response);
}

async function json<T>(method: string, path: string, body?: unknown): Promise<T> {
  const response =
    body === undefined
      ? await call(method, path)
      : await call(method, path, JSON.stringify(body), 'application/json');
  if (response.status === 204) return undefined as T;
  // One that breaks off, or is none of ours, changed nothing here.
  return (await response.json().catch(() => {
    throw new ApiError(0, 'The answer broke off on its way.');
  })) as T;
}

const binary = 'application/octet-stream';

export const api = {
  me: () => json<Me>('GET', '/api/me'),
  demoAccount: () => json<DemoAccount>('GET', '/api/demo-account'),
  signIn: (body: Credentials) => json<Me>('POST', '/api/login', body),
  signUp: (body: Credentials) => json<Me>('POST', '/api/accounts', body),
  signOut: () => json<void>('POST', '/api/logout'),
  tellFault: (body: PageFault) => json<void>('POST', '/api/faults', body),
  holdings: () => json<HoldingsLine>('GET', '/api/holdings'),

  /** A hundred at a time, from a place on. */
  sessions: (from = 0) => json<SessionLine[]>('GET', `/api/sessions?from=${from}`),
  newSession: (body: NewSession) => json<Created>('POST', '/api/sessions', body),
  session: (id: string) => json<OpenSession>('GET', `/api/sessions/${id}`),
  removeSession: (id: string) => json<void>('DELETE', `/api/sessions/${id}`),
  edit: (id: string, body: EditRequest) => json<EditDone>('POST', `/api/sessions/${id}/edits`, body),
  walk: (id: string, way: 'undo' | 'redo', body: StepRequest) =>
    json<EditDone>('POST', `/api/sessions/${id}/${way}`, body),
  /** The change that gave a revision. */
  /** Throws where the account has no room for a sound that is about to be sent. */
  room: (id: string, frames: number, channels: number) =>
    json<undefined>('GET', `/api/sessions/${id}/room?frames=${frames}&channels=${channels}`),
  step: (id: string, step: string) => json<StepLine>('GET', `/api/sessions/${id}/steps/${step}`),
  changesAfter: (id: string, revision: number) =>
    json<EditDone[]>('GET', `/api/sessions/${id}/changes?after=${revision}`),
  /** Those of some changes that went through. */
  known: (id: string, ids: string[]) =>
    json<EditDone[]>('POST', `/api/sessions/${id}/changes/known`, { ids }),
  events: (id: string) => new EventSource(`/api/sessions/${id}/events`),
  snapshots: (id: string) => json<SnapshotLine[]>('GET', `/api/sessions/${id}/snapshots`),
  takeSnapshot: (id: string, body: NewSnapshot) =>
    json<Created>('POST', `/api/sessions/${id}/snapshots`, body),
  snapshot: (id: string, snapshot: string) =>
    json<Session>('GET', `/api/sessions/${id}/snapshots/${snapshot}`),
  changeSnapshot: (id: string, snapshot: string, body: SnapshotChange) =>
    json<void>('PUT', `/api/sessions/${id}/snapshots/${snapshot}`, body),
  removeSnapshot: (id: string, snapshot: string) =>
    json<void>('DELETE', `/api/sessions/${id}/snapshots/${snapshot}`),
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
  midiUrl: (id: string) => `/api/sessions/${id}/midi`,

  startRender: (id: string) => json<Created>('POST', `/api/sessions/${id}/renders`),
  renders: (id: string) => json<RenderLine[]>('GET', `/api/sessions/${id}/renders`),
  removeRender: (id: string) => json<void>('DELETE', `/api/renders/${id}`),
  cancelRender: (id: string) => json<void>('POST', `/api/renders/${id}/cancel`),
  zipUrl: (id: string) => `/api/renders/${id}/zip`,
  renderFile: async (id: string, position: number): Promise<ArrayBuffer> =>
    (await call('GET', `/api/renders/${id}/files/${position}`)).arrayBuffer(),
};
