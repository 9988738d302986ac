<!-- The session as a template: a new one, or one of one's own brought up to date. -->
<script lang="ts">
  import Leave from '$lib/ui/Leave.svelte';
  import Frame from '$lib/ui/Frame.svelte';
  import { api } from '$lib/api/client';
  import type { Session, TemplateKeeps, TemplateLine } from '$lib/api/types';
  import { keptBy, lostBy } from '$lib/state/template';
  import { Attempt } from '$lib/state/attempt.svelte';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import TemplateFields from '$lib/ui/TemplateFields.svelte';

  let { open = $bindable(false) }: { open?: boolean } = $props();
  const { session } = desktop();
  let own = $state<TemplateLine[]>([]);
  let target = $state('');
  let name = $state('');
  let purpose = $state('');
  let keeps = $state<TemplateKeeps>({ audio: false, patterns: false, levels: true, chains: true });
  let done = $state('');
  /** The template that is brought up to date, as it stands. */
  let before = $state.raw<Session>();
  const lost = $derived(before && target ? lostBy(before, session.doc, keeps) : []);

  const attempt = new Attempt();

  $effect(() => {
    if (!open) return;
    [done, target, name, purpose] = ['', '', session.header.title, ''];
    before = undefined;
    void attempt.run(async () => void (own = (await api.templates()).filter((t) => !t.house)));
  });
  function pick(id: string) {
    target = id;
    const chosen = own.find((t) => t.id === id);
    [name, purpose] = chosen ? [chosen.name, chosen.purpose] : [session.header.title, ''];
    before = undefined;
    if (chosen)
      void attempt.run(async () => {
        const { document } = await api.template(id);
        if (target !== id) return;
        // It goes on keeping what it kept.
        [before, keeps] = [document, keptBy(document)];
      });
  }
  function save(event: SubmitEvent) {
    event.preventDefault();
    void attempt.run(async () => {
      // The server makes it of what it has, so every edit goes there first.
      await session.settled();
      if (target) await api.changeTemplate(target, { name, purpose, from: { session: session.id, keeps } });
      else await api.newTemplate({ session: session.id, name, purpose, keeps });
      done = target ? `${name} is up to date.` : `${name} is kept. New sessions can start from it.`;
    });
  }
</script>

<Frame bind:open title="Save as a template" width={440}>
  {#if done}
    <p role="status">{done}</p>
    <div class="mt-4 text-right">
      <Leave>Close</Leave>
    </div>
  {:else}
    <form class="grid gap-3" onsubmit={save}>
      {#if own.length > 0}
        <Picker
          label="Save as"
          named
          value={target}
          options={[
            { value: '', text: 'a new template' },
            ...own.map((t) => ({ value: t.id, text: `${t.name}, brought up to date` })),
          ]}
          onpick={pick}
        />
      {/if}
      <TemplateFields bind:name bind:purpose bind:keeps />
      {#if lost.length > 0}
        <p role="status" class="text-look">It would lose {lost.join(', ')}.</p>
      {/if}
      {#if attempt.problem}<p role="alert" class="text-wrong">{attempt.problem}</p>{/if}
      <div class="flex justify-end gap-2">
        <Leave>Leave it</Leave>
        <Button kind="first" type="submit" disabled={attempt.busy || name.trim() === ''}
          >{lost.length > 0 ? 'Save without them' : 'Save'}</Button
        >
      </div>
    </form>
  {/if}
</Frame>
