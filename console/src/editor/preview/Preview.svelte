<script lang="ts">
  import { words } from "../conditions";
  import type { PocketEditor } from "../editor.svelte";
  import Bar from "./Bar.svelte";
  import Cases from "./Cases.svelte";
  import Sheet from "./Sheet.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const sight = $derived(editor.sight);
  let room = $state(0);
  let high = $state(0);
  const width = $derived(sight.conditions.width || 0);
  const scale = $derived(width && room && width > room ? room / width : 1);
  const over = $derived(sight.over.flatMap((m) => {
      const setting = editor.setting(m.key);
      return setting && editor.matters(setting) ? [{ ...m, label: setting.label.en }] : [];
    }));
  const unusual = $derived(words(sight.conditions));
  const samples = $derived((sight.shown?.samples ?? []).map((key) => editor.label(key)));
</script>

<section aria-label="Preview" class="flex h-full min-w-0 flex-col">
  <Bar {editor} />
  <Cases {editor} {unusual} />
  {#if samples.length || sight.live}
    <p class="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 border-b border-line bg-wash px-4 py-1.5 text-sm">
      <span class="min-w-0" role="status">{#if sight.live}This is what visitors see, without sample content.{:else}<strong class="font-medium">Sample content</strong>, which visitors do not get: {samples.slice(0, 4).join(", ")}{samples.length > 4 ? ` and ${samples.length - 4} more` : ""}.{/if}</span>
      <button type="button" class="rounded underline underline-offset-4" onclick={() => sight.samples(sight.live)}>{sight.live ? "Show samples" : "Hide samples"}</button>
    </p>
  {/if}
  {#if sight.sheet}
    <Sheet {editor} />
  {:else}
    <div class="relative min-h-0 flex-1 overflow-hidden bg-sunk" bind:clientWidth={room} bind:clientHeight={high}>
      <iframe
        title="Preview of the widget"
        class={["mx-auto block origin-top-left border-0 bg-white", width && "shadow-[0_0_0_1px_var(--line)]"]}
        style:width={width ? `${width}px` : "100%"}
        style:height="{high / scale}px"
        style:transform={scale < 1 ? `scale(${scale})` : undefined}
        style:margin-inline={scale < 1 ? "0" : undefined}
        sandbox="allow-scripts"
        data-drawn={sight.drawn}
        src="{editor.publicBase}/preview"
        onload={(e) => sight.stage.connect(e.currentTarget as HTMLIFrameElement)}
      ></iframe>
      {#if sight.pointing}
        <p class="pointer-events-none absolute inset-x-0 bottom-0 bg-ink/90 px-4 py-2 text-sm text-paper" role="status">
          {#if over.length}<strong class="font-semibold">{over[0].label}{over[0].item === undefined ? "" : ` ${over[0].item + 1}`}</strong>{#each over.slice(1, 6) as maker (maker.key)}<span class="opacity-80">{` · ${maker.label}`}</span>{/each}{:else}Click a part of the widget to open its settings. Press Esc to stop.{/if}
        </p>
      {/if}
    </div>
  {/if}
  {#if sight.fault}<p role="alert" class="border-t border-line bg-sheet px-5 py-2.5 text-bad">The widget's script failed: {sight.fault}</p>{/if}
  {#if sight.trouble}<p role="alert" class="border-t border-line bg-sheet px-5 py-2.5 text-bad">The preview was not updated: {sight.trouble}</p>{/if}
</section>
