<script lang="ts">
  // The starters beside the pockets.
  import CustomerChoice, { only } from "../customers/CustomerChoice.svelte";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Cards from "./Cards.svelte";
  import { Gallery } from "./gallery.svelte";
  import { lastCustomer } from "./start.svelte";

  // customer: the one that the list is limited to, or "".
  let { customer: listed }: { customer: string } = $props();
  let chosen = $state(session.who?.customer || lastCustomer());
  const customer = $derived(listed || chosen);
  const gallery = new Gallery("", true);
  // After the pockets, which come first.
  $effect(() => {
    const later = (globalThis.requestIdleCallback ?? setTimeout)(() => gallery.load());
    return () => {
      (globalThis.cancelIdleCallback ?? clearTimeout)(later);
      gallery.frame.close();
    };
  });
</script>

<aside aria-labelledby="starters-heading" class="flex min-h-0 flex-col max-lg:border-t max-lg:border-line lg:sticky lg:top-0 lg:h-screen lg:border-s lg:border-line lg:ps-6">
  <div class="space-y-2.5 pt-8 pb-3">
    <div class="flex items-baseline justify-between gap-3">
      <h2 id="starters-heading" class="text-lg font-semibold tracking-tight">New pocket</h2>
      <span class="flex gap-3 text-sm">
        {#if session.operator}<a href="/new-widget" onclick={router.follow} class="rounded underline underline-offset-4">New widget</a>{/if}
        <a href="/gallery" onclick={router.follow} class="rounded underline underline-offset-4">Larger previews</a>
      </span>
    </div>
    {#if session.operator && !listed}<CustomerChoice id="starters-for" label="For which customer" size="w-full" choose value={chosen} onchange={(c) => (chosen = c)} onfound={(found) => (chosen ||= only(found))} />{/if}
    <input type="search" class="field" placeholder="Search starters" aria-label="Search starters" bind:value={gallery.search} autocomplete="off" />
    {#if gallery.error}<p role="alert" class="text-sm text-bad">The starters could not be loaded. <button type="button" class="underline underline-offset-4" onclick={() => gallery.load()}>Try again</button></p>{/if}
  </div>
  <div class="min-h-0 flex-1 pb-8 lg:overflow-y-auto lg:pe-1" tabindex="-1"><Cards {gallery} {customer} small /></div>
</aside>
