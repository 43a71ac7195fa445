<script lang="ts">
  // The page of an invitation's link.
  import { api } from "../api/client";
  import { Refused } from "../api/refused";
  import type { Invited } from "../api/types";
  import { router } from "../router.svelte";
  import Button from "../ui/Button.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { session } from "./session.svelte";

  const secret = location.hash.slice(1);
  let invited = $state<Invited | null>(null);
  let error = $state<Error | null>(null);
  let name = $state("");
  let password = $state("");
  let busy = $state(false);
  let trouble = $state<{ what: string; hint: string } | null>(null);
  const may: Record<string, string> = { "customer-editor": "edit and publish its widgets", "customer-viewer": "view its widgets" };

  api.invited(secret).then(
    (found) => {
      invited = found;
      name = signInName(found.name);
    },
    (e) => (error = e),
  );
  // Converts the name in the invitation to a user name: "Mira Holm" becomes "mira.holm".
  function signInName(given = "") {
    const plain = given.normalize("NFKD").toLowerCase().replace(/ß/g, "ss").replace(/[\u0300-\u036f]/g, "");
    return plain.trim().replace(/\s+/g, ".").replace(/[^a-z0-9._@+-]/g, "").replace(/^[^a-z0-9]+/, "").slice(0, 80);
  }
  async function join(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    trouble = null;
    try {
      session.who = await api.join(secret, name.trim().toLowerCase(), password);
      router.go("/");
    } catch (e) {
      trouble = { what: (e as Error).message, hint: e instanceof Refused ? e.hint : "" };
    } finally {
      busy = false;
    }
  }
</script>

<svelte:head><title>Join · Glass Pocket</title></svelte:head>

<main class="grid min-h-full place-items-center p-6">
  {#if error}
    <Trouble {error} retry={() => router.go("/")} words="Go to the sign-in page" />
  {:else if invited}
    <form class="w-full max-w-sm" onsubmit={join}>
      <img src="/mark.svg" alt="" class="mb-5 size-11" />
      <h1 class="text-2xl font-semibold tracking-tight">Join {invited.customer}</h1>
      <p class="mt-1 mb-7 text-soft">{invited.by} invites {invited.name || "you"} to {may[invited.role]}.</p>
      <label class="mb-1 block font-medium" for="name">Sign-in name</label>
      <!-- svelte-ignore a11y_autofocus: the page has one purpose -->
      <input id="name" class="field mb-1" bind:value={name} autocomplete="username" autocapitalize="none" required autofocus aria-describedby="name-about" />
      <p id="name-about" class="mb-4 text-sm text-soft">For example, your email address.</p>
      <label class="mb-1 block font-medium" for="password">Password</label>
      <input id="password" class="field mb-1" type="password" bind:value={password} autocomplete="new-password" minlength="12" required aria-describedby="password-about" />
      <p id="password-about" class="mb-5 text-sm text-soft">At least 12 characters, such as a few unrelated words.</p>
      <Button type="submit" class="w-full" disabled={busy}>{busy ? "Joining…" : "Join"}</Button>
      <div role="alert" class="mt-4 min-h-12">{#if trouble}<p class="font-medium text-bad">{trouble.what}</p><p class="text-soft">{trouble.hint}</p>{/if}</div>
    </form>
  {/if}
</main>
