<script lang="ts">
  // Creates an account for a guest: a sign-in name and a password are enough.
  import type { Snippet } from "svelte";
  import { api } from "../api/client";
  import { Refused } from "../api/refused";
  import { session } from "../session/session.svelte";
  import { guestPocket } from "./guest";

  // actions get whether the request is running.
  let { ondone, actions }: { ondone: () => void; actions: Snippet<[boolean]> } = $props();
  let name = $state("");
  let password = $state("");
  let busy = $state(false);
  let trouble = $state<{ what: string; hint: string } | null>(null);

  async function signUp(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    trouble = null;
    try {
      session.who = await api.signUp(name.trim().toLowerCase(), password);
      guestPocket.set(null);
      ondone();
    } catch (error) {
      trouble = { what: (error as Error).message, hint: error instanceof Refused ? error.hint : "" };
    } finally {
      busy = false;
    }
  }
  const focus = (at: HTMLElement) => at.focus();
</script>

<form onsubmit={signUp} aria-label="Sign up">
  <label class="mb-1 block font-medium" for="new-name">Email or sign-in name</label>
  <input id="new-name" class="field mb-4" bind:value={name} autocomplete="username" autocapitalize="none" required {@attach focus} />
  <label class="mb-1 block font-medium" for="new-password">Password</label>
  <input id="new-password" class="field mb-1" type="password" bind:value={password} autocomplete="new-password" minlength="12" required aria-describedby="new-password-about" />
  <p id="new-password-about" class="text-sm text-soft">At least 12 characters, such as a few unrelated words.</p>
  <div role="alert" class="mt-3">{#if trouble}<p class="font-medium text-bad">{trouble.what}</p><p class="text-soft">{trouble.hint}</p>{/if}</div>
  {@render actions(busy)}
</form>
