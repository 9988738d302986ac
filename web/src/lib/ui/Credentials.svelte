<!-- E-mail address and password. -->
<script lang="ts">
  interface Props {
    email: string;
    password: string;
    /** Whether an account is made with them. */
    fresh?: boolean;
  }
  let { email = $bindable(), password = $bindable(), fresh = false }: Props = $props();
</script>

<label class="grid gap-1">
  <span class="text-second">E-mail address</span>
  <input
    class="border-line bg-raised rounded-md border px-2 py-1.5"
    type="email"
    autocomplete="username"
    required
    bind:value={email}
  />
</label>
<label class="grid gap-1">
  <span class="text-second">Password{fresh ? ', at least 10 characters' : ''}</span>
  <input
    class="border-line bg-raised rounded-md border px-2 py-1.5"
    type="password"
    autocomplete={fresh ? 'new-password' : 'current-password'}
    required
    minlength={fresh ? 10 : undefined}
    bind:value={password}
  />
</label>
