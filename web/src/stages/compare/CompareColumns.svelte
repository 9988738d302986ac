<!-- Heads of the columns of Compare: how it is now, and how it was. -->
<script lang="ts">
  import { desktop } from '$lib/state/context';
  import { NOW_COLUMN, TAKE_COLUMN, THEN_COLUMN } from './columns';

  const { versions } = desktop();
</script>

<div class="flex min-w-0 flex-1 items-center">
  <span class={NOW_COLUMN}>Now</span>
  <span class="{THEN_COLUMN} truncate">{versions.other?.name ?? ''}</span>
  <span class={TAKE_COLUMN}></span>
</div>
