<script lang="ts">
  // A live rendering in its own frame, as wide as a page's column and scaled to fit.
  import type { Previewed } from "../../api/types";
  import { Stage } from "../stage";

  let { publicBase, label, payload }: { publicBase: string; label: string; payload: Previewed } = $props();
  const stage = new Stage();
  $effect(() => () => stage.close());
  let drawn = $state(0);
  stage.ondrawn = () => drawn++;
  $effect(() => stage.draw(payload));
  let room = $state(0);
  let height = $state(120);
  stage.onheight = (h) => (height = Math.max(40, h));
  const width = $derived(Math.max(640, room));
  const scale = $derived(room ? Math.min(1, room / width) : 1);
</script>

<figure class="min-w-0 flex-1" bind:clientWidth={room}>
  <figcaption class="mb-1 text-sm text-soft">{label}</figcaption>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex: a scrolling region must be reachable by
       keyboard -->
  <div tabindex="0" role="group" aria-label={label} class="max-h-64 overflow-auto rounded-lg border border-line bg-white" style:height="{Math.min(256, height * scale + 2)}px">
    <!-- Not focusable, because the focus could not return from it to the dialog. -->
    <iframe tabindex="-1" data-drawn={drawn} title={label} class="block origin-top-left border-0" style:width="{width}px" style:height="{height}px" style:transform="scale({scale})" sandbox="allow-scripts" src="{publicBase}/preview" onload={(e) => stage.connect(e.currentTarget as HTMLIFrameElement)}></iframe>
  </div>
</figure>
