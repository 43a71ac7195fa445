<script lang="ts">
  // The preview on the customer's own page, or on a sample.
  import { widths } from "../editor/conditions";
  import PageWidth from "../ui/PageWidth.svelte";
  import Segments from "../ui/Segments.svelte";
  import Button from "../ui/Button.svelte";
  import { shows, type Installing } from "./install.svelte";

  let { install }: { install: Installing } = $props();
  let room = $state(0);
  let high = $state(0);
  let pasting = $state(false);
  const scale = $derived(install.width && room && install.width > room ? room / install.width : 1);
  const tried = $derived(install.tried);
  const losses = $derived(tried?.outcome.losses ?? []);

  function submit(event: SubmitEvent) {
    event.preventDefault();
    install.page.spot = -1;
    void install.try();
  }
  function sample() {
    install.page = { address: "", html: "", spot: -1 };
    pasting = false;
    void install.try();
  }
</script>

<section aria-label="Preview on your page" class="flex h-full min-w-0 flex-col">
  <form class="flex flex-wrap items-center gap-2 border-b border-line bg-sheet px-4 py-2" onsubmit={submit}>
    {#if pasting}
      <label class="sr-only" for="try-html">HTML of your page</label>
      <textarea id="try-html" class="field h-[38px] min-w-0 flex-1 font-mono text-[13px]" placeholder="Paste the HTML of your page" spellcheck="false" bind:value={install.page.html}></textarea>
    {:else}
      <label class="sr-only" for="try-address">Address of your page</label>
      <input id="try-address" class="field min-w-0 flex-1 basis-56" inputmode="url" placeholder="Address of your page" bind:value={install.page.address} autocomplete="url" />
    {/if}
    <Button type="submit" disabled={install.trying || !install.guided?.guide}>{install.trying ? "Checking…" : "Try it there"}</Button>
    <button
      type="button"
      class="tool text-sm"
      onclick={() => {
        pasting = !pasting;
        if (pasting) install.page.address = "";
        else install.page.html = "";
      }}>{pasting ? "Enter its address" : "Paste its HTML"}</button
    >
    {#if install.own}<button type="button" class="tool text-sm" onclick={sample}>Sample page</button>{/if}
  </form>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-sheet px-4 py-2">
    <PageWidth width={install.width} usual={[[0, "Full"], [1280, "Wide"], ...widths.slice(1)]} onchange={(w) => (install.width = w)} />
    <Segments value={install.still ? "still" : "live"} label="View" options={[{ value: "live", label: "Live" }, { value: "still", label: "Without scripts" }]} onchange={(v) => (install.still = v == "still")} />
    {#if tried && tried.spots.length > 1}
      <label class="flex min-w-0 flex-1 items-center gap-2 text-sm"><span class="shrink-0 text-soft">After</span>
        <select
          class="field min-h-8 py-1"
          value={tried.spot}
          onchange={(e) => {
            install.page.spot = +e.currentTarget.value;
            void install.try();
          }}
        >
          {#each tried.spots as spot, i (i)}<option value={i}>{spot.after}</option>{/each}
        </select>
      </label>
    {/if}
  </div>
  <div class="relative min-h-0 flex-1 overflow-hidden bg-sunk" bind:clientWidth={room} bind:clientHeight={high}>
    {#if install.tryTrouble}
      <div role="alert" class="mx-auto max-w-md px-6 py-14 text-center">
        <p class="text-lg font-semibold">{install.tryTrouble.what}</p>
        <p class="mt-1 text-soft">{install.tryTrouble.hint}</p>
        <Button kind="plain" class="mt-5" onclick={() => (pasting = true)}>Paste its HTML</Button>
      </div>
    {:else if tried}
      <iframe
        title={install.own ? `Your page with the widget: ${tried.title}` : "A sample page with the widget"}
        class={["mx-auto block origin-top-left border-0 bg-white", install.width && "shadow-[0_0_0_1px_var(--line)]"]}
        style:width={install.width ? `${install.width}px` : "100%"}
        style:height="{high / scale}px"
        style:transform={scale < 1 ? `scale(${scale})` : undefined}
        style:margin-inline={scale < 1 ? "0" : undefined}
        sandbox="allow-scripts allow-popups"
        data-shows={tried.outcome.shows}
        src={install.still ? tried.still : tried.live}
      ></iframe>
    {:else}
      <div class="mx-auto max-w-md px-6 py-14 text-center">
        <p class="text-lg font-semibold">{install.guided ? "There is nothing to show yet." : "Try it before you paste it."}</p>
        <p class="mt-1 text-soft">{install.guided ? "Choose a delivery that shows something, or seal the pocket first." : "Choose what the page is built with, then enter its address. You see the page here with the widget on it."}</p>
      </div>
    {/if}
  </div>
  {#if tried && (losses.length || tried.add || tried.findings.length || install.own)}
    <div class="max-h-[34vh] overflow-y-auto border-t border-line bg-sheet px-4 py-3" role="status">
      {#if install.own}<p><span class="font-medium">On this page, visitors get {shows[tried.outcome.shows]}{tried.outcome.held ? ", once scripts are allowed" : ""}.</span></p>{/if}
      {#each tried.findings as f, i (i)}
        <p class="mt-1.5 flex gap-2"><span aria-hidden="true" class="w-3 shrink-0 text-bad">!</span><span>{#if f.code != "site-not-entered" && f.code != "not-here"}<span class="font-medium">Already on the page:</span>{/if} {f.what} {f.fix}</span></p>
      {/each}
      {#each losses as l, i (i)}
        <p class="mt-1.5 flex gap-2"><span aria-hidden="true" class="w-3 shrink-0 text-warn">−</span><span><span class="font-medium">Removed: {l.what}.</span> {l.why} {l.fix}</span></p>
      {/each}
      {#if tried.add}
        <p class="mt-1.5 flex gap-2"><span aria-hidden="true" class="w-3 shrink-0 text-warn">+</span><span class="min-w-0"><span class="font-medium">Ask the webmaster to add this to the page's content policy</span> <code class="rounded bg-sunk px-1 font-mono text-[13px] wrap-anywhere">{tried.add}</code></span></p>
      {/if}
    </div>
  {/if}
</section>
