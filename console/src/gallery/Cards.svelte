<script lang="ts">
  // The starters as live previews. A click on one starts a pocket.
  import { explain } from "../api/refused";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import type { Card, Gallery } from "./gallery.svelte";
  import { Starting } from "./start.svelte";

  // customer is whose the pocket is; "" asks operators. small: in a narrow column, where all cards
  // have the same height, so that nothing moves under the pointer when a preview is drawn.
  let { gallery, customer, small = false }: { gallery: Gallery; customer: string; small?: boolean } = $props();
  const starting = new Starting();
  async function duplicate(card: Card) {
    starting.trouble = "";
    try {
      const { duplicateStarter } = await import("../worktop/duplicate");
      await duplicateStarter(card.widget.name, card.starter);
      router.go(`/worktop/${card.widget.name}`);
    } catch (error) {
      session.expire(error);
      starting.trouble = explain(error);
    }
  }
  let grid = $state<HTMLElement>();
  let width = $state(0);
  const page = 720; // CSS pixels of the page for each preview
  const tallest = 0.625; // largest ratio of height to width of a card
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

  const floats = (card?: Card) => !!card && (card.widget.floats || !!card.widget.starters.find((s) => s.name == card.starter)?.floats);

  // In the column, a widget's starters are drawn when they are about to be seen.
  function seen(section: HTMLElement) {
    const watch = new IntersectionObserver((entries) => entries.some((e) => e.isIntersecting) && gallery.want(section.dataset.widget!), { rootMargin: "300px" });
    watch.observe(section);
    return () => watch.disconnect();
  }

  // The frame draws into the cards' windows.
  $effect(() => {
    void [groups, width, gallery.heights];
    if (!grid) return;
    const at = grid.getBoundingClientRect();
    const cells = [...grid.querySelectorAll<HTMLElement>("[data-window]")].map((window) => {
      const box = window.getBoundingClientRect();
      const id = window.dataset.window!;
      return { id, left: box.left - at.left, top: box.top - at.top, width: box.width, height: Math.floor(box.height) - 1, scale: Math.min(1, box.width / page), most: box.width * tallest, floats: floats(gallery.cards.find((c) => c.id == id)) };
    });
    gallery.frame.lay(cells, at.height);
  });
</script>

{#if starting.trouble}<p role="alert" class="mb-3 text-bad">{starting.trouble}</p>{/if}
<!-- The frame exists from the start: it loads while its content is being requested. -->
<div class={["relative", !there && "hidden"]} bind:this={grid} bind:clientWidth={width}>
  <!-- It is above the cards and ignores the pointer; each preview is in its card's window. -->
  <iframe title="Gallery previews" aria-hidden="true" tabindex="-1" class="pointer-events-none absolute inset-0 z-10 size-full border-0" style:color-scheme="light" sandbox="allow-scripts" data-drawn={Object.keys(gallery.drawn).length} data-laid-out={gallery.laidOut} src="{session.who!.publicBase}/gallery" onload={(e) => gallery.frame.connect(e.currentTarget as HTMLIFrameElement)}></iframe>
  {#each groups as group (group.name)}
    {@const widget = group.cards[0].widget}
    <section class={small ? "mb-5" : "mb-10"} aria-labelledby="group-{group.name}" data-widget={group.name} {@attach gallery.lazy ? seen : undefined}>
      <svelte:element this={small ? "h3" : "h2"} id="group-{group.name}" class={small ? "mb-1.5 font-medium" : "text-lg font-semibold"}>{widget.title.en}</svelte:element>
      {#if widget.summary && !small}<p class="mb-3 text-soft">{widget.summary.en}</p>{/if}
      <ul class={["grid", small ? "grid-cols-2 gap-2.5" : "grid-cols-[repeat(auto-fill,minmax(min(300px,100%),1fr))] gap-5"]}>
        {#each group.cards as card (card.id)}
          <li class="group relative flex flex-col rounded-xl border border-line bg-sheet focus-within:border-teal hover:border-teal">
            <div data-window={card.id} class={["flex-1 overflow-hidden rounded-t-xl bg-white", (small || !gallery.heights[card.id]) && "aspect-[16/10]"]} style:min-height={gallery.heights[card.id] && !small ? `${gallery.heights[card.id]}px` : undefined}></div>
            <div class={["border-t border-line", small ? "px-2.5 py-1.5" : "px-4 py-3"]}>
              <button type="button" class={["text-start font-medium after:absolute after:inset-0 after:rounded-xl", small && "block max-w-full truncate text-sm"]} title={card.summary || undefined} disabled={session.views || !!starting.busy} onclick={() => starting.start(card, customer)}>{card.title}</button>
              {#if session.operator && !small && card.starter}<button type="button" class="relative z-20 float-end rounded text-sm text-soft underline-offset-4 hover:text-ink hover:underline" title="Duplicate this starter on the worktop" aria-label="Duplicate the starter {card.title}" onclick={() => duplicate(card)}>Duplicate</button>{/if}
              <p class={["truncate text-sm text-soft", small && starting.busy != card.id && "sr-only"]}>{starting.busy == card.id ? "Making the pocket…" : card.summary || widget.title.en}</p>
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
{#if starting.asking}
  {@const card = starting.asking}
  {#await import("./CardBox.svelte") then { default: CardBox }}<CardBox {card} payload={gallery.payloads.get(card.id)} {starting} close={() => (starting.asking = null)} />{/await}
{/if}
