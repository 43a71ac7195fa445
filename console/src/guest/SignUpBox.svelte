<script lang="ts">
  // Creates an account when there is something to publish.
  import { api } from "../api/client";
  import { Refused } from "../api/refused";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import { guestPocket } from "./guest";

  let { onclose, ondone }: { onclose: () => void; ondone: () => void } = $props();
  let business = $state("");
  let name = $state("");
  let password = $state("");
  let busy = $state(false);
  let trouble = $state<{ what: string; hint: string; field: string } | null>(null);

  async function signUp() {
    busy = true;
    trouble = null;
    try {
      session.who = await api.signUp(business.trim(), name.trim().toLowerCase(), password);
      guestPocket.set(null);
      ondone();
    } catch (error) {
      trouble = { what: (error as Error).message, hint: error instanceof Refused ? error.hint : "", field: error instanceof Refused ? error.code : "" };
    } finally {
      busy = false;
    }
  }
</script>

<Box title="Sign up to publish" about="Your pocket moves to your account with all its settings." {onclose} onsubmit={signUp}>
  <label class="mb-1 block font-medium" for="business">Name of your business or club, or your own name</label>
  <input id="business" class="field mb-4" bind:value={business} autocomplete="organization" maxlength="120" required />
  <label class="mb-1 block font-medium" for="new-name">Sign-in name</label>
  <input id="new-name" class="field mb-1" bind:value={name} autocomplete="username" autocapitalize="none" required aria-describedby="new-name-about" />
  <p id="new-name-about" class="mb-4 text-sm text-soft">For example, your email address.</p>
  <label class="mb-1 block font-medium" for="new-password">Password</label>
  <input id="new-password" class="field mb-1" type="password" bind:value={password} autocomplete="new-password" minlength="12" required aria-describedby="new-password-about" />
  <p id="new-password-about" class="text-sm text-soft">At least 12 characters, such as a few unrelated words.</p>
  <div role="alert" class="mt-3">{#if trouble}<p class="font-medium text-bad">{trouble.what}</p><p class="text-soft">{trouble.hint}</p>{/if}</div>
  {#snippet actions()}
    <button type="button" class="me-auto rounded text-sm underline underline-offset-4 max-sm:w-full max-sm:pb-1 max-sm:text-start" onclick={() => router.go("/sign-in")}>Sign in instead</button>
    <Button kind="plain" onclick={onclose}>Cancel</Button>
    <Button type="submit" disabled={busy}>{busy ? "Signing up…" : "Sign up"}</Button>
  {/snippet}
</Box>
