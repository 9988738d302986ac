<!-- Name, purpose and what a template keeps. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import { LIMITS } from '$lib/api/types/limits';
  import type { TemplateKeeps } from '$lib/api/types';

  interface Props {
    name: string;
    purpose: string;
    keeps?: TemplateKeeps;
  }
  let { name = $bindable(), purpose = $bindable(), keeps = $bindable() }: Props = $props();
  const parts = [
    ['audio', 'Samples and recordings'],
    ['patterns', 'Patterns, hits and the song'],
    ['levels', 'Levels: trims, faders, pans, sends'],
    ['chains', 'Chains of processors'],
  ] as const;
  const input = 'border-line bg-raised rounded-md border px-2 py-1.5';
</script>

<div class="grid gap-3">
  <label class="grid gap-1">
    <span class="text-second">Name</span>
    <input class={input} maxlength={LIMITS.name_chars} bind:value={name} />
  </label>
  <label class="grid gap-1">
    <span class="text-second">What it is for</span>
    <input class={input} maxlength={LIMITS.purpose_chars} bind:value={purpose} />
  </label>
  {#if keeps}
    <fieldset class="grid gap-1">
      <legend class="text-second mb-1">It keeps lanes, names and routing, and</legend>
      {#each parts as [part, text] (part)}
        <label class="flex items-center gap-2">
          <CheckMark bind:checked={keeps[part]} />
          {text}
        </label>
      {/each}
    </fieldset>
  {/if}
</div>
