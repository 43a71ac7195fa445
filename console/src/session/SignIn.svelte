<script lang="ts">
  import { api } from "../api/client";
  import { Refused } from "../api/refused";
  import { guestPocket } from "../guest/guest";
  import { router } from "../router.svelte";
  import Button from "../ui/Button.svelte";
  import { session } from "./session.svelte";

  let name = $state("");
  let password = $state("");
  let busy = $state(false);
  let trouble = $state<{ what: string; hint: string } | null>(null);

  // Claims a guest pocket and returns the page to show. If that fails, the pocket is not forgotten:
  // the page of its link says why.
  async function claim(secret: string): Promise<string> {
    try {
      const taken = await api.claim(secret);
      guestPocket.set(null);
      return `/pockets/${taken.key}`;
    } catch (error) {
      if (!(error instanceof Refused && error.status == 404)) return `/resume#${secret}`;
      guestPocket.set(null); // it was claimed already, or has expired
      return "/";
    }
  }
  async function submit(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    trouble = null;
    try {
      await session.signIn(name.trim(), password);
      const left = guestPocket.get();
      // A guest pocket from before the sign-in is claimed.
      if (left && session.who?.customer && session.edits) router.go(await claim(left.secret));
      else if (router.path == "/sign-in") router.go("/");
    } catch (error) {
      trouble = { what: (error as Error).message, hint: error instanceof Refused ? error.hint : "" };
    } finally {
      busy = false;
    }
  }
</script>

<svelte:head><title>Sign in · Glass Pocket</title></svelte:head>

<main class="grid min-h-full place-items-center p-6">
  <form class="w-full max-w-sm" onsubmit={submit}>
    <img src="/mark.svg" alt="" class="mb-5 size-11" />
    <h1 class="text-2xl font-semibold tracking-tight">Sign in to Glass Pocket</h1>
    <p class="mt-1 mb-7 text-soft">Use the name and password from the service's first start or from your operator.</p>
    <label class="mb-1 block font-medium" for="name">Name</label>
    <!-- svelte-ignore a11y_autofocus: the page has one purpose -->
    <input id="name" class="field mb-4" bind:value={name} autocomplete="username" autocapitalize="none" required autofocus />
    <label class="mb-1 block font-medium" for="password">Password</label>
    <input id="password" class="field mb-5" type="password" bind:value={password} autocomplete="current-password" required />
    <Button type="submit" class="w-full" disabled={busy}>{busy ? "Signing in…" : "Sign in"}</Button>
    <div role="alert" class="mt-4 min-h-12">
      {#if trouble}<p class="font-medium text-bad">{trouble.what}</p><p class="text-soft">{trouble.hint}</p>{/if}
    </div>
    {#if session.guest}
      <p class="border-t border-line pt-5 text-soft">No account yet? <a class="font-medium text-ink underline underline-offset-4" href="/gallery" onclick={router.follow}>Choose a widget in the gallery</a> and edit it. You need an account only to publish.</p>
    {/if}
  </form>
</main>
