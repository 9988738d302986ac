<!-- A trigger that a ducker goes by: how loud and long it is for keys, and how early or late. -->
<script lang="ts">
  import type { Edit, Voice } from '$lib/api/types';
  import { range } from '$lib/limits';
  import { desktop } from '$stages/desktop';
  import { tried } from '$lib/state/tried';
  import Field from '$lib/ui/Field.svelte';
  import { lengthOf, withLayers, withLength } from './triggers';

  let { voice }: { voice: Voice } = $props();
  const { session } = desktop();
  const layers = $derived(voice.source.kind === 'one_shot' ? voice.source.layers : []);
  const level = $derived(layers[0]?.gain_db ?? 0);
  const length = $derived(lengthOf(voice, session.doc.assets));
  const source = (to: Voice['source']): Edit => ({
    kind: 'set_source',
    voice: voice.id,
    source: to,
    assets: [],
  });
  const louder = tried(session, (to) =>
    source(withLayers(voice, (l) => ({ ...l, gain_db: l.gain_db + to - level }))),
  );
  const longer = tried(session, (to) => source(withLength(voice, to)));
  const later = tried(session, (to): Edit => ({ kind: 'set_voice_late', voices: [voice.id], late_ms: to }));
</script>

<div class="grid content-start gap-1">
  {#if layers.length > 0}
    <Field
      name="Level"
      label="Level of {voice.name} for keys"
      value={level}
      {...range('trim_db')}
      step={0.5}
      unit="dB"
      reset={0}
      {...louder}
    />
    <Field
      name="Length"
      label="Length of {voice.name}"
      value={length}
      min={1}
      max={5000}
      step={1}
      unit="ms"
      {...longer}
    />
  {/if}
  <Field
    name="Late"
    label="How much later {voice.name} hits, earlier below 0"
    value={voice.late_ms}
    {...range('late_ms')}
    step={0.5}
    unit="ms"
    reset={0}
    {...later}
  />
</div>
