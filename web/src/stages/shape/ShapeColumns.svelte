<!-- Heads of the columns of Shape. -->
<script lang="ts" module>
</script>

<span class="pl-2">Chain, from left to right</span>
