<!-- An equaliser: its curve with handles, and beside it every value of its bands and what else belongs to it. -->
<script lang="ts">
  import type { BandInfo, Strip } from '$lib/api/types';
  import type { Snippet } from 'svelte';
  import BandList from './BandList.svelte';
  import type { EqualiserSettings } from './bands';
  import EqualiserCurve from './EqualiserCurve.svelte';
  import { HeardBand } from './heard.svelte';

  interface Props {
    settings: EqualiserSettings;
    /** How much of its gains acts, in %. */
    mix: number;
    info: BandInfo;
    strip: Strip;
    color: string;
    ontry: (to: EqualiserSettings) => void;
    onset: (to: EqualiserSettings) => void;
    oncancel: () => void;
    /** Stands under the bands. */
    children: Snippet;
  }
  let { settings, mix, info, strip, color, ontry, onset, oncancel, children }: Props = $props();
  const heard = new HeardBand(
    () => settings,
    () => info,
    (to) => ontry(to),
    () => oncancel(),
  );
</script>

<div class="flex min-h-[150px] min-w-0 flex-1">
  <EqualiserCurve {settings} {mix} bands={heard.bands} {info} {strip} {color} {ontry} {onset} {oncancel} />
</div>
<div class="min-h-0 min-w-0 overflow-auto @2xl:w-[464px] @2xl:shrink-0">
  <BandList
    {settings}
    bands={heard.bands}
    {info}
    {strip}
    heard={heard.at}
    onhear={heard.hear}
    {ontry}
    {onset}
    {oncancel}
  />
  <div class="mt-2">{@render children()}</div>
</div>
