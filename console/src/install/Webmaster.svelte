<script lang="ts">
  // The page of a handover's link, for somebody without an account.
  import { api } from "../api/client";
  import type { HandedOver } from "../api/types";
  import { router } from "../router.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import Steps from "./Steps.svelte";

  let handed = $state<HandedOver | null>(null);
  let error = $state<Error | null>(null);
  api.handedOver(location.hash.slice(1)).then(
    (found) => (handed = found),
    (e) => (error = e),
  );
</script>

<svelte:head><title>{handed ? `${handed.title}: steps` : "Steps"} · Glass Pocket</title></svelte:head>

{#if error}
  <main class="grid min-h-full place-items-center"><Trouble {error} retry={() => router.go("/")} words="Go to the sign-in page" /></main>
{:else if handed}
  <main class="mx-auto max-w-2xl px-6 py-10 print:max-w-none print:p-0 print:text-black">
    <div class="flex items-start justify-between gap-4">
      <p class="flex items-center gap-2 text-soft"><img src="/mark.svg" alt="" class="size-5" />{handed.customer}</p>
      <button type="button" class="tool text-sm print:hidden" onclick={() => print()}>Print</button>
    </div>
    <h1 class="mt-3 text-3xl font-semibold tracking-tight">“{handed.title}” on your site</h1>
    {#if handed.guide}
      <p class="mt-2 text-soft">For: {handed.guide.title}. {handed.guide.offer.why}</p>
      {#if handed.note}<blockquote class="mt-5 border-s-4 border-teal bg-wash px-4 py-2.5 print:bg-white">{handed.note} <span class="text-soft">({handed.by})</span></blockquote>{/if}
      <p class="mt-5">{handed.guide.offer.delivery == "sealed" ? "This snippet is sealed. To show later changes, paste a new one." : "Paste this only once. Later changes of the widget show automatically."}</p>
      <div class="mt-7"><Steps guide={handed.guide} /></div>
      <p class="mt-8 border-t border-line pt-4 text-sm text-soft">The widget on its own page: <a class="underline underline-offset-4" href={handed.page}>{handed.page}</a></p>
    {:else}
      <p class="mt-4">There are no steps at the moment. Ask the sender of this link.</p>
    {/if}
  </main>
{/if}
