<!-- Templates: chosen to start from, renamed, exported, imported, removed. -->
<script lang="ts">
  import Sure from '$lib/ui/Sure.svelte';
  import Leave from '$lib/ui/Leave.svelte';
  import Frame from '$lib/ui/Frame.svelte';
  import { api } from '$lib/api/client';
  import type { TemplateLine } from '$lib/api/types';
  import Button from '$lib/ui/Button.svelte';
  import Outline from '$lib/ui/Outline.svelte';
  import TemplateFields from '$lib/ui/TemplateFields.svelte';

  interface Props {
    templates: TemplateLine[];
    /** The id of the one that new sessions start from; empty for none. */
    chosen: string;
    busy: boolean;
    attempt: (what: string, work: () => Promise<void>) => Promise<void>;
  }
  let { templates = $bindable(), chosen = $bindable(), busy, attempt }: Props = $props();
  let picker = $state<HTMLInputElement>();
  let removing = $state<TemplateLine>();
  let changing = $state<TemplateLine>();
  let name = $state('');
  let purpose = $state('');

  const reload = async () => void (templates = await api.templates());
  function bring(input: HTMLInputElement) {
    const file = input.files?.[0];
    input.value = '';
    if (file)
      void attempt('Reading the template …', async () => {
        await api.importTemplate(file);
        await reload();
      });
  }
  function change(event: SubmitEvent) {
    event.preventDefault();
    const id = changing?.id;
    changing = undefined;
    if (id)
      void attempt('Renaming …', async () => {
        await api.changeTemplate(id, { name, purpose, from: null });
        await reload();
      });
  }
  function remove(template: TemplateLine) {
    removing = undefined;
    if (chosen === template.id) chosen = '';
    void attempt('Removing …', async () => {
      await api.removeTemplate(template.id);
      await reload();
    });
  }
  const holds = (t: TemplateLine) =>
    [
      `${t.lanes} ${t.lanes === 1 ? 'lane' : 'lanes'}`,
      ...(t.has_audio ? ['samples'] : []),
      ...(t.has_patterns ? ['patterns'] : []),
      ...(t.house ? ['ours'] : []),
    ].join(', ');
</script>

<section aria-label="Templates" class="mt-6">
  <header class="mb-1 flex items-baseline gap-4">
    <h2 class="text-[15px] font-semibold">Templates</h2>
    <Button kind="text" class="ml-auto" disabled={busy} onclick={() => picker?.click()}
      >Import a template</Button
    >
    <input
      bind:this={picker}
      type="file"
      accept=".zip"
      class="hidden"
      aria-label="Template as a ZIP file"
      onchange={(event) => bring(event.currentTarget)}
    />
  </header>
  <ul>
    {#each templates as template (template.id)}
      <li
        class="border-line flex items-center gap-4 border-b py-2 {chosen === template.id ? 'bg-chosen' : ''}"
      >
        <Outline strips={template.strips} label="Routing of {template.name}" />
        <div class="min-w-0 flex-1">
          <p class="truncate">
            <b>{template.name}</b> <span class="text-second pl-2">{holds(template)}</span>
          </p>
          <p class="text-second truncate" title={template.purpose}>{template.purpose}</p>
        </div>
        <Button
          aria-pressed={chosen === template.id}
          aria-label="Start from {template.name}"
          onclick={() => (chosen = chosen === template.id ? '' : template.id)}
          >{chosen === template.id ? 'Chosen' : 'Start'}</Button
        >
        <a class="underline" href={api.templateUrl(template.id)} aria-label="Export {template.name}">Export</a
        >
        {#if !template.house}
          <Button
            kind="text"
            aria-label="Rename {template.name}"
            onclick={() => ([changing, name, purpose] = [template, template.name, template.purpose])}
            >Rename</Button
          >
          <Button kind="text" aria-label="Remove {template.name}" onclick={() => (removing = template)}
            >Remove</Button
          >
        {/if}
      </li>
    {/each}
  </ul>
</section>

<Frame
  bind:open={() => changing !== undefined, (open) => !open && (changing = undefined)}
  title="Rename the template"
  width={384}
>
  <form class="grid gap-4" onsubmit={change}>
    <TemplateFields bind:name bind:purpose />
    <div class="flex justify-end gap-2">
      <Leave>Leave it</Leave>
      <Button kind="first" type="submit" disabled={name.trim() === ''}>Rename</Button>
    </div>
  </form>
</Frame>

<Sure
  asks={removing && `Remove ${removing.name}?`}
  said="Sessions that began from it stay as they are. This cannot be undone."
  verb="Remove"
  onanswer={(sure) => (sure && removing ? void remove(removing) : (removing = undefined))}
/>
