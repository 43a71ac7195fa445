<script lang="ts">
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { guestPocket } from "../guest/guest";
  import CustomerChoice, { only } from "../customers/CustomerChoice.svelte";
  import Cards from "./Cards.svelte";
  import { Gallery } from "./gallery.svelte";
  import { lastCustomer } from "./start.svelte";

  const gallery = new Gallery();
  gallery.load();
  $effect(() => () => gallery.frame.close());
  let customer = $state(session.who?.customer || lastCustomer());
  const left = guestPocket.get();
</script>

<svelte:head><title>Gallery · Glass Pocket</title></svelte:head>

<Header />
<main class="mx-auto max-w-6xl px-5 py-10">
  <div class="flex flex-wrap items-end justify-between gap-x-8 gap-y-4">
    <div>
      <h1 class="text-2xl font-semibold tracking-tight">What would you like to add?</h1>
      <p class="mt-1 text-soft">Every preview is live, with sample content. Choose one to start a pocket with it{session.guest ? ". You need an account only to publish" : ""}.</p>
    </div>
    <div class="flex flex-wrap gap-2">
      {#if session.operator}<CustomerChoice id="for" label="For which customer" size="w-full sm:w-52" choose value={customer} onchange={(c) => (customer = c)} onfound={(found) => (customer ||= only(found))} />{/if}
      <input type="search" class="field w-full sm:w-64" placeholder="Search" aria-label="Search the gallery" bind:value={gallery.search} autocomplete="off" />
    </div>
  </div>
  {#if session.guest && left && session.who?.guestPocket == left.key}
    <p class="mt-5 rounded-lg bg-wash px-4 py-2.5">You have already started a pocket. <a class="font-medium underline underline-offset-4" href={`/pockets/${left.key}`} onclick={router.follow}>Continue editing</a></p>
  {/if}
  {#if gallery.error}
    <Trouble error={gallery.error} retry={() => gallery.load()} />
  {:else if gallery.found?.widgets.length == 0}
    <div class="mt-8 rounded-xl border border-line bg-sheet px-8 py-12">
      <p class="text-lg font-semibold">There are no widgets yet.</p>
      <p class="mt-1 text-soft">{session.operator ? "Make a widget on the worktop, or release a folder with the client." : "The operator has not released any widgets."}</p>
    </div>
  {:else if gallery.found}
    <div class="mt-6 flex flex-wrap gap-1.5" role="group" aria-label="Purpose">
      {#each [{ name: "", label: { en: "Everything" } }, ...gallery.found.purposes] as purpose (purpose.name)}
        <button type="button" class={["rounded-full border px-3.5 py-1", gallery.purpose == purpose.name ? "border-teal bg-wash font-medium" : "border-line bg-sheet text-soft hover:border-edge hover:text-ink"]} aria-pressed={gallery.purpose == purpose.name} onclick={() => (gallery.purpose = purpose.name)}>{purpose.label.en}</button>
      {/each}
    </div>
  {/if}
  <div class="mt-6"><Cards {gallery} {customer} /></div>
</main>
