<!-- Heads of the columns of Track out. -->
<script lang="ts" module>
</script>

<span class="w-[56px] pl-2">In</span><span class="w-[110px]">Tap</span>
<span class="flex-1">File, as it will be</span><span class="w-[220px]">Last render: peak dBFS, LUFS</span>
