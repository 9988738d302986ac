<script lang="ts">
  import Leave from '$lib/ui/Leave.svelte';
  import Frame from '$lib/ui/Frame.svelte';
  import About from '$lib/ui/About.svelte';
  let { open = $bindable(false) }: { open?: boolean } = $props();
  const keys = [
    ['Space', 'Play or stop the loop; on a button reached by Tab, press it'],
    ['P', 'Play or stop the loop from everywhere'],
    ['Home', 'Back to the start of the loop'],
    ['1 to 8', 'Stages'],
    ['↑ ↓', 'Rows; with Shift more of them; with Ctrl without choosing'],
    ['Ctrl Space', 'Choose a row apart, or let go of it'],
    ['F6', 'From header to stages, rows and bench'],
    ['Alt ↑ ↓', 'Move the chosen lanes'],
    ['M, S', 'Mute, solo the chosen rows'],
    ['C', 'Clear peaks and overload lights'],
    ['X, Shift 1 to 3', 'Hear the next side; A, B, C'],
    ['F2', 'Rename'],
    ['Del', 'Remove the chosen lanes'],
    ['Ctrl Z, Ctrl Shift Z', 'Undo, redo'],
    ['on a value: ↑ ↓, Shift', 'Step, fine'],
    ['on a value: Enter or digits', 'Type'],
    ['on a value of chosen rows', '+3 and -3 move all of them, a plain number makes them equal'],
    ['on a pattern: ← →, Enter, Del, ↑ ↓', 'Step, set, remove, velocity'],
    ['on a processor: Alt ↑ ↓', 'Move it along its chain'],
    ['on a send: ← →, T, P, M, Del', 'Next return, pre or post, pan, mute, remove'],
    ['on a band: ← → ↑ ↓, Shift', 'Frequency, gain, fine'],
    ['on the ruler: ← →, Shift', 'Move the loop, change its length'],
  ];
</script>

<Frame bind:open title="Shortcuts" width={680}>
  <dl class="grid grid-cols-[auto_1fr] gap-x-5 gap-y-1.5">
    {#each keys as [key, what] (key)}
      <dt class="figures">{key}</dt>
      <dd class="text-second">{what}</dd>
    {/each}
  </dl>
  <div class="mt-4 flex items-center justify-between">
    <About />
    <Leave>Close</Leave>
  </div>
</Frame>
