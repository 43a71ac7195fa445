<script lang="ts">
  // The frame of one case. Side by side it is scaled down, so that it shows a page of its real
  // width.
  import type { PreviewCase } from "./cases";
  import type { Worktop } from "./worktop.svelte";

  let { worktop, which, scaled = false }: { worktop: Worktop; which: PreviewCase; scaled?: boolean } = $props();
  // svelte-ignore state_referenced_locally: created for each case
  const frame = worktop.previews.frame(which);
  $effect(() => () => worktop.previews.unframe(which, frame));

  let room = $state(0);
  const wide = 760; // width of a page side by side if the case has none
  const width = $derived(scaled ? (which.width ?? wide) : which.width);
  const scale = $derived(scaled && room && width ? Math.min(1, room / width) : 1);
</script>

<div class="h-full w-full" bind:clientWidth={room}>
  {#if !worktop.previews.stuck}
    <iframe
      {@attach () => frame.watch()}
      title="Preview: {which.label}"
      class="mx-auto block h-full origin-top-left border-0 bg-white"
      style:width={width ? `${width}px` : "100%"}
      style:height={scaled ? `${100 / scale}%` : "100%"}
      style:transform={scaled ? `scale(${scale})` : undefined}
      style:margin-inline={scale < 1 ? "0" : undefined}
      sandbox="allow-scripts"
      src="{worktop.publicBase}/worktop"
      onload={(e) => frame.connect(e.currentTarget as HTMLIFrameElement)}
    ></iframe>
  {/if}
</div>
