<script lang="ts">
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { guestPocket } from "../guest/guest";
  import CardBox from "./CardBox.svelte";
  import { Gallery, type Card } from "./gallery.svelte";

  const gallery = new Gallery();
  gallery.load();
  $effect(() => () => gallery.frame.close());
  let chosen = $state<Card | null>(null);
  let grid = $state<HTMLElement>();
  let width = $state(0);
  const page = 720; // CSS pixels of the page for each preview
  const tallest = 0.625; // largest ratio of height to width of a card
  const left = guestPocket.get();
  const there = $derived(!gallery.error && !!gallery.found?.widgets.length);

  const groups = $derived.by(() => {
    const list: { name: string; cards: Card[] }[] = [];
    for (const card of gallery.cards) {
      const last = list.at(-1);
      if (last?.name == card.widget.name) last.cards.push(card);
      else list.push({ name: card.widget.name, cards: [card] });
    }
    // By purpose.
    const rank = (name: string) => gallery.found!.purposes.findIndex((p) => p.name == gallery.found!.widgets.find((w) => w.name == name)!.purpose);
    return list.sort((a, b) => rank(a.name) - rank(b.name));
  });

  // The frame draws into the cards' windows.
  $effect(() => {
    void [groups, width, gallery.heights];
    if (!grid) return;
    const at = grid.getBoundingClientRect();
    const cells = [...grid.querySelectorAll<HTMLElement>("[data-window]")].map((window) => {
      const box = window.getBoundingClientRect();
      const id = window.dataset.window!;
      return { id, left: box.left - at.left, top: box.top - at.top, width: box.width, height: Math.floor(box.height) - 1, scale: Math.min(1, box.width / page), most: box.width * tallest, floats: !!gallery.cards.find((c) => c.id == id)?.widget.floats };
    });
    gallery.frame.lay(cells, at.height);
  });
</script>

<svelte:head><title>Gallery · Glass Pocket</title></svelte:head>

<Header />
<main class="mx-auto max-w-6xl px-5 py-10">
  <div class="flex flex-wrap items-end justify-between gap-x-8 gap-y-4">
    <div>
      <h1 class="text-2xl font-semibold tracking-tight">What would you like to add?</h1>
      <p class="mt-1 text-soft">Every preview is live, with sample content. Choose one and edit it{session.guest ? ". You need an account only to publish" : ""}.</p>
    </div>
    <input type="search" class="field w-full sm:w-64" placeholder="Search" aria-label="Search the gallery" bind:value={gallery.search} autocomplete="off" />
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
  <!-- The frame exists from the start: it loads while its content is being requested. -->
  <div class={["relative mt-6", !there && "hidden"]} bind:this={grid} bind:clientWidth={width}>
    <!-- It is above the cards and ignores the pointer; each preview is in its card's window. -->
    <iframe title="Gallery previews" aria-hidden="true" tabindex="-1" class="pointer-events-none absolute inset-0 z-10 size-full border-0" style:color-scheme="light" sandbox="allow-scripts" data-drawn={Object.keys(gallery.drawn).length} data-laid-out={gallery.laidOut} src="{session.who!.publicBase}/gallery" onload={(e) => gallery.frame.connect(e.currentTarget as HTMLIFrameElement)}></iframe>
    {#each groups as group (group.name)}
      {@const widget = group.cards[0].widget}
      <section class="mb-10" aria-labelledby="group-{group.name}">
        <h2 id="group-{group.name}" class="text-lg font-semibold">{widget.title.en}</h2>
        {#if widget.summary}<p class="mb-3 text-soft">{widget.summary.en}</p>{/if}
        <ul class="grid grid-cols-[repeat(auto-fill,minmax(min(300px,100%),1fr))] gap-5">
          {#each group.cards as card (card.id)}
            <li class="group relative flex flex-col rounded-xl border border-line bg-sheet focus-within:border-teal hover:border-teal">
              <div data-window={card.id} class={["flex-1 overflow-hidden rounded-t-xl bg-white", !gallery.heights[card.id] && "aspect-[16/10]"]} style:min-height={gallery.heights[card.id] ? `${gallery.heights[card.id]}px` : undefined}></div>
              <div class="border-t border-line px-4 py-3">
                <button type="button" class="text-start font-medium after:absolute after:inset-0 after:rounded-xl" onclick={() => (chosen = card)}>{card.title}</button>
                <p class="truncate text-sm text-soft">{card.summary || widget.title.en}</p>
              </div>
            </li>
          {/each}
        </ul>
      </section>
    {:else}
      <div class="rounded-xl border border-line bg-sheet px-8 py-12 text-center">
        <p class="font-medium">No widgets match “{gallery.search}”.</p>
        <button type="button" class="mt-2 rounded underline underline-offset-4" onclick={() => ((gallery.search = ""), (gallery.purpose = ""))}>Show all widgets</button>
      </div>
    {/each}
  </div>
</main>
{#if chosen}<CardBox card={chosen} payload={gallery.payloads.get(chosen.id)} close={() => (chosen = null)} />{/if}
