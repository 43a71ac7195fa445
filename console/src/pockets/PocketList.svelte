<script lang="ts">
  import { router } from "../router.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import State from "./State.svelte";
  import { PocketsInReach } from "./pockets.svelte";

  const reach = new PocketsInReach();
  reach.load();
</script>

<svelte:head><title>Pockets · Glass Pocket</title></svelte:head>

<Header />
<main class="mx-auto max-w-5xl px-5 py-10">
  <h1 class="text-2xl font-semibold tracking-tight">Pockets</h1>
  {#if reach.error}
    <Trouble error={reach.error} retry={() => reach.load()} />
  {:else if !reach.loading && reach.pockets.length == 0}
    <div class="mt-6 rounded-xl border border-line bg-sheet px-8 py-12">
      <p class="text-lg font-semibold">There are no pockets yet.</p>
      <p class="mt-1 max-w-xl text-soft">A pocket is one customer's configured copy of a widget. Make the first one from a terminal:</p>
      <pre class="mt-4 overflow-x-auto rounded-lg bg-sunk p-4 font-mono text-sm">bin/glasspocket release widgets/countdown
bin/glasspocket make customer "Kelp &amp; Kiln"
bin/glasspocket make pocket -customer kelp-kiln -widget countdown -starter harbour</pre>
    </div>
  {:else}
    <p class="mt-1 mb-6 text-soft">Each is one customer's configured copy of a widget. Open one to change it.</p>
    <div class="overflow-x-auto rounded-xl border border-line bg-sheet">
      <table class="w-full text-start">
        <thead class="text-sm text-soft">
          <tr class="border-b border-line">
            {#each ["Pocket", "Customer", "Widget", "State"] as head (head)}<th scope="col" class="px-5 py-3 text-start font-medium">{head}</th>{/each}
          </tr>
        </thead>
        <tbody>
          {#each reach.pockets as pocket (pocket.key)}
            <tr class="relative border-b border-line last:border-0 hover:bg-paper">
              <td class="px-5 py-3.5">
                <a href={`/pockets/${pocket.key}`} onclick={router.follow} class="font-medium text-ink after:absolute after:inset-0">{pocket.title}</a>
                <div class="font-mono text-[13px] text-soft">{pocket.key}</div>
              </td>
              <td class="px-5 py-3.5">{reach.customers[pocket.customer] ?? pocket.customer}</td>
              <td class="px-5 py-3.5">{pocket.widget}</td>
              <td class="px-5 py-3.5"><State {pocket} /></td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    {#if reach.next}<Button kind="plain" class="mt-5" onclick={() => reach.more()}>Show more</Button>{/if}
  {/if}
</main>
