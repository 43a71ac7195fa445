<script lang="ts">
  // A customer's colours, fonts and logo.
  import type { Customer } from "../api/types";
  import AssetPicker from "../editor/assets/AssetPicker.svelte";
  import { provideEditor } from "../editor/context";
  import { contrast } from "../editor/contrast";
  import Rendering from "../editor/publish/Rendering.svelte";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import Colour from "../ui/Colour.svelte";
  import { fontLabels } from "../ui/fonts";
  import { BrandEditor } from "./brand.svelte";

  let { customer }: { customer: Customer } = $props();
  // svelte-ignore state_referenced_locally: the form is for one customer
  const brand = new BrandEditor(customer);
  brand.load();
  // The asset picker needs a library; this is one for the customer.
  provideEditor({ key: "", widget: null, library: brand.library } as never);
  const starts: Record<string, string> = { colour: "#0b6b63", font: "plain" };
  const own = $derived(brand.values.filter((v) => !brand.brand!.names.some((n) => n.name == v.name)));
  const example = $derived(brand.values.find((v) => v.type == "colour")?.label ?? brand.values[0]?.label ?? "…");
  let naming = $state(false);
  let label = $state("");
  const ink = $derived(String(brand.get("ink")?.value ?? ""));
  const ground = $derived(String(brand.get("ground")?.value ?? ""));
  const ratio = $derived(ink && ground ? contrast(ink, ground) : 0);
  const faultOf = (name: string) => brand.faults[`${brand.values.findIndex((v) => v.name == name)}/value`];
  const asset = (value: unknown) => (value as { asset?: string } | undefined)?.asset ?? "";
</script>

<p class="max-w-2xl text-soft">New pockets start with these values, and settings can refer to them. When you change a value here, every pocket that refers to it changes too. You see which pockets before you save.</p>
{#if brand.brand}
  <fieldset disabled={!session.edits} class="mt-6 grid max-w-2xl gap-x-8 gap-y-5 sm:grid-cols-2">
    <legend class="sr-only">Brand</legend>
    {#each [...brand.brand.names, ...own] as known (known.name)}
      {@const current = brand.get(known.name)}
      <div class="min-w-0">
        <div class="mb-1.5 flex items-baseline justify-between gap-3">
          <span id="brand-{known.name}" class="font-medium">{known.type == "font" ? `Font for ${known.label.toLowerCase()}` : known.label}</span>
          {#if current && session.edits}<button type="button" class="rounded text-[13px] text-soft underline underline-offset-4 hover:text-ink" aria-label="Delete {known.label}" onclick={() => brand.set(known.name, known.type, known.label, null)}>Delete</button>{/if}
        </div>
        {#if !current}
          {#if known.type == "image"}
            <AssetPicker kind="image" label={known.label} chosen="" choose={(ref) => brand.set(known.name, known.type, known.label, { asset: ref, alt: customer.name, decorative: false, focus: { x: 50, y: 50 } })} words="Choose an image" />
          {:else}
            <Button kind="plain" class="min-h-8 px-3 text-sm" onclick={() => brand.set(known.name, known.type, known.label, starts[known.type])}>Set</Button>
          {/if}
        {:else if known.type == "colour"}
          <Colour value={String(current.value)} label={known.label} invalid={!!faultOf(known.name)} onchange={(v) => brand.set(known.name, known.type, known.label, v)} />
        {:else if known.type == "font"}
          <select class="field" aria-labelledby="brand-{known.name}" value={current.value as string} onchange={(e) => brand.set(known.name, known.type, known.label, e.currentTarget.value)}>
            {#each Object.entries(fontLabels) as [value, words] (value)}<option {value}>{words}</option>{/each}
            {#if !(String(current.value) in fontLabels)}<option value={current.value as string}>{brand.library.name(String(current.value))}</option>{/if}
          </select>
          <div class="mt-1.5"><AssetPicker kind="font" label={known.label} chosen={String(current.value)} choose={(ref) => brand.set(known.name, known.type, known.label, ref)} words="Upload a font…" /></div>
        {:else}
          <img src={brand.library.address(asset(current.value))} alt="" class="mb-2 h-20 rounded-lg border border-line bg-white object-contain p-2" />
          <AssetPicker kind="image" label={known.label} chosen={asset(current.value)} choose={(ref) => brand.set(known.name, known.type, known.label, { ...(current.value as object), asset: ref })} words="Choose another" />
        {/if}
        {#if faultOf(known.name)}<p role="alert" class="mt-1.5 text-sm text-bad">{faultOf(known.name).what} {faultOf(known.name).fix}</p>{/if}
        {#if known.name == "ink" && ratio > 0 && ratio < 4.5}<p class="mt-1.5 text-sm text-warn" role="status">Hard to read on “Background”: the contrast is {ratio.toFixed(1)}, and text needs 4.5.</p>{/if}
      </div>
    {/each}
  </fieldset>
  {#if session.edits}
    <div class="mt-5 flex flex-wrap items-center gap-3">
      {#if naming}
        <form
          class="flex gap-2"
          onsubmit={(e) => {
            e.preventDefault();
            if (label.trim()) brand.add(label.trim());
            naming = false;
            label = "";
          }}
        >
          <!-- svelte-ignore a11y_autofocus: the user has just opened it -->
          <input class="field w-56" placeholder="Name" aria-label="Name of the colour" bind:value={label} maxlength="60" autofocus />
          <Button kind="plain" type="submit">Add</Button>
        </form>
      {:else}<button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => (naming = true)}>Add a colour…</button>{/if}
    </div>
    <div class="mt-7 flex items-center gap-4 border-t border-line pt-5">
      <Button disabled={!brand.changed || brand.busy} onclick={() => brand.ask()}>Save brand…</Button>
      <p role="status" class="text-soft">{brand.said}</p>
    </div>
    {#if brand.unused}
      <div class="mt-4 max-w-2xl rounded-lg bg-wash px-4 py-3">
        <p class="font-medium">To use a brand value in an existing pocket</p>
        <p class="text-soft">Open the pocket. Next to each colour, font and image there is a list that says “own”. Choose “brand: {example}” there, then publish. After that, the setting follows the brand.</p>
        <p class="mt-2"><a class="font-medium underline underline-offset-4" href="/" onclick={router.follow}>Go to pockets</a></p>
      </div>
    {/if}
  {/if}
{/if}
{#if brand.trouble}<p role="alert" class="mt-3 text-bad">{brand.trouble}</p>{/if}
{#if brand.trouble && !brand.brand}<Button kind="plain" class="mt-3" onclick={() => brand.load()}>Try again</Button>{/if}
{#if brand.asking}
  <Box title={brand.next ? `More than ${brand.pockets.length} pockets change` : brand.pockets.length == 1 ? "One pocket changes" : `${brand.pockets.length} pockets change`} about="Each uses a value that you have changed. Visitors see the change within a minute. You do not need to paste anything again." wide onclose={() => (brand.asking = false)} onsubmit={() => brand.save()}>
    <ul class="divide-y divide-line">
      {#each brand.pockets as pocket (pocket.key)}
        {@const rendering = brand.renderings[pocket.key]}
        <li class="py-3">
          <div class="flex flex-wrap items-baseline justify-between gap-x-4">
            <p><span class="font-medium">{pocket.title}</span> <span class="font-mono text-[13px] text-soft">{pocket.key}</span></p>
            {#if !rendering}<button type="button" class="rounded text-sm underline underline-offset-4" aria-label="Show {pocket.title}" onclick={() => brand.rendering(pocket)}>Show</button>{/if}
          </div>
          {#if rendering}
            <div class="mt-2 flex gap-4 max-sm:flex-col">
              <Rendering publicBase={session.who!.publicBase} label="Before" payload={rendering.before} />
              <Rendering publicBase={session.who!.publicBase} label="After" payload={rendering.after} />
            </div>
          {/if}
        </li>
      {/each}
    </ul>
    {#if brand.next}<Button kind="plain" onclick={() => brand.more()}>Show more</Button>{/if}
    {#snippet actions()}
      <Button kind="plain" onclick={() => (brand.asking = false)}>Cancel</Button>
      <Button type="submit" disabled={brand.busy}>{brand.busy ? "Saving…" : "Change pockets"}</Button>
    {/snippet}
  </Box>
{/if}
