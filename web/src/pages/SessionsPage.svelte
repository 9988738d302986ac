<script lang="ts">
  import Sure from '$lib/ui/Sure.svelte';
  import About from '$lib/ui/About.svelte';
  import { api } from '$lib/api/client';
  import type { HoldingsLine, Me, SessionLine, TemplateLine } from '$lib/api/types';
  import { LIMITS } from '$lib/api/types/limits';
  import { bytesText } from '$lib/bytes';
  import { place } from '$lib/state/place.svelte';
  import Button from '$lib/ui/Button.svelte';
  import Templates from './Templates.svelte';

  let { me, onsignout }: { me: Me; onsignout: () => void } = $props();
  let sessions = $state<SessionLine[]>();
  let problem = $state('');
  let busy = $state('');
  let title = $state('');
  let rate = $state(48000);
  let picker = $state<HTMLInputElement>();
  let removing = $state<SessionLine>();
  let templates = $state<TemplateLine[]>([]);
  let template = $state('');
  let holdings = $state<HoldingsLine>();
  /** What was put right in a session that was imported, with its address. */
  let putRight = $state<{ id: string; remarks: string[] }>();

  const when = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' });

  async function attempt(what: string, work: () => Promise<void>) {
    [busy, problem] = [what, ''];
    try {
      await work();
    } catch (error) {
      problem = (error as Error).message;
    }
    busy = '';
  }
  /** Sessions that are told at once; where there are so many, there may be more. */
  const PAGE = 100;
  let more = $state(false);
  function list(lines: SessionLine[]) {
    sessions = lines;
    more = lines.length >= PAGE;
  }
  const loadMore = () =>
    attempt('Opening …', async () => {
      const shown = sessions ?? [];
      const next = await api.sessions(shown.length);
      // One that was changed meanwhile stands further in front now.
      const known = new Set(shown.map((s) => s.id));
      sessions = [...shown, ...next.filter((s) => !known.has(s.id))];
      more = next.length >= PAGE;
    });
  const load = () =>
    attempt('Opening …', async () => {
      const [lines, ...rest] = await Promise.all([api.sessions(), api.templates(), api.holdings()]);
      list(lines);
      [templates, holdings] = rest;
    });
  void load();

  function create(event: SubmitEvent) {
    event.preventDefault();
    void attempt('Making the session …', async () => {
      const wanted = { title: title.trim() || 'New beat', sample_rate: rate };
      const { id } = await (template ? api.startFrom(template, wanted) : api.newSession(wanted));
      place.go(`/s/${id}`);
    });
  }
  function bring(file: File | undefined) {
    if (!file) return;
    void attempt('Reading the session folder …', async () => {
      const { id, remarks } = await api.importFolder(file);
      if (remarks.length === 0) return place.go(`/s/${id}`);
      putRight = { id, remarks };
      list(await api.sessions());
    });
  }
  function remove(session: SessionLine) {
    removing = undefined;
    void attempt('Removing …', async () => {
      await api.removeSession(session.id);
      sessions = sessions?.filter((s) => s.id !== session.id);
      holdings = await api.holdings();
    });
  }
</script>

<main class="mx-auto flex h-full max-w-5xl flex-col px-6 py-8">
  <header class="mb-6 flex items-baseline gap-4">
    <h1 class="text-xl font-semibold">Sessions</h1>
    {#if holdings}
      <span class="text-second" title="Audio is counted once, however many sessions use it.">
        Audio {bytesText(holdings.audio_bytes)}, of it library {bytesText(holdings.library_bytes)}; stems {bytesText(
          holdings.render_bytes,
        )}; undo and snapshots {bytesText(holdings.history_bytes)}; of {bytesText(holdings.quota_bytes)}
      </span>
    {/if}
    <span class="text-second ml-auto">{me.email}</span>
    <Button kind="text" onclick={onsignout}>Sign out</Button>
  </header>
  <form class="border-line bg-panel mb-5 flex items-end gap-3 rounded-md border p-4" onsubmit={create}>
    <label class="grid flex-1 gap-1">
      <span class="text-second">Title</span>
      <input
        class="border-line bg-raised rounded-md border px-2 py-1.5"
        maxlength={LIMITS.title_chars}
        placeholder="New beat"
        bind:value={title}
      />
    </label>
    <label class="grid gap-1">
      <span class="text-second">Sample rate</span>
      <select class="border-line bg-raised rounded-md border px-2 py-1.5" bind:value={rate}>
        {#each [44100, 48000, 88200, 96000] as hz (hz)}<option value={hz}>{hz / 1000} kHz</option>{/each}
      </select>
    </label>
    <label class="grid gap-1">
      <span class="text-second">Start from</span>
      <select class="border-line bg-raised w-40 rounded-md border px-2 py-1.5" bind:value={template}>
        <option value="">nothing</option>
        {#each templates as t (t.id)}<option value={t.id}>{t.name}</option>{/each}
      </select>
    </label>
    <Button kind="first" type="submit" disabled={busy !== ''}>New session</Button>
    <Button disabled={busy !== ''} onclick={() => picker?.click()}>Import a session folder</Button>
    <input
      bind:this={picker}
      type="file"
      accept=".zip"
      class="hidden"
      aria-label="Session folder as a ZIP file"
      onchange={(event) => bring(event.currentTarget.files?.[0])}
    />
  </form>
  {#if problem}
    <p role="alert" class="text-wrong mb-3">
      {problem}
      <Button kind="text" onclick={load}>Try again</Button>
    </p>
  {/if}
  {#if putRight}
    {@const { id, remarks } = putRight}
    <div class="border-line bg-panel mb-3 rounded-md border p-3" role="alert">
      <p>The session was imported, and this was put right in it:</p>
      <ul class="text-look max-h-32 overflow-auto pl-4">
        {#each remarks as remark, at (at)}<li>{remark}</li>{/each}
      </ul>
      <Button onclick={() => place.go(`/s/${id}`)}>Open it</Button>
    </div>
  {/if}
  <p role="status" class="text-second h-5">{busy}</p>
  <div class="min-h-0 flex-1 overflow-auto">
    <ul>
      {#each sessions ?? [] as session (session.id)}
        <li class="border-line hover:bg-chosen flex items-center gap-4 border-b">
          <a
            class="grid flex-1 grid-cols-[1fr_90px_90px_90px_170px] items-baseline px-2 py-3"
            href="/s/{session.id}"
            onclick={(event) => {
              if (event.metaKey || event.ctrlKey) return;
              event.preventDefault();
              place.go(`/s/${session.id}`);
            }}
          >
            <span class="truncate text-[15px] font-semibold">{session.title}</span>
            <span class="text-second">{session.voices} {session.voices === 1 ? 'lane' : 'lanes'}</span>
            <span class="figures text-second">{session.tempo_bpm} bpm</span>
            <span class="figures text-second" title="Audio of the session"
              >{bytesText(session.audio_bytes)}</span
            >
            <span class="text-second">{when.format(new Date(session.updated_at))}</span>
          </a>
          <Button kind="text" aria-label="Remove {session.title}" onclick={() => (removing = session)}
            >Remove</Button
          >
        </li>
      {:else}
        {#if sessions}
          <li class="text-second py-10 text-center">No sessions yet. Give the first one a title above.</li>
        {/if}
      {/each}
    </ul>
    {#if more}<Button class="mt-3" disabled={busy !== ''} onclick={loadMore}>Show more</Button>{/if}
    <Templates bind:templates bind:chosen={template} busy={busy !== ''} {attempt} />
    <div class="mt-8"><About /></div>
  </div>
</main>

<Sure
  asks={removing && `Remove ${removing.title}?`}
  said="Its patterns, levels and stems go for good. This cannot be undone."
  verb="Remove"
  onanswer={(sure) => (sure && removing ? void remove(removing) : (removing = undefined))}
/>
