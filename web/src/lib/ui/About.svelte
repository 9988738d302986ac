<script lang="ts"></script>

<!-- Which version this is, and the licences of what ships with it. -->
<p class="text-second text-[12px]">
  Zealous Lane {__VERSION__} ·
  <a class="underline" href="/licences.txt" target="_blank">Licences of fonts and libraries</a>
</p>
