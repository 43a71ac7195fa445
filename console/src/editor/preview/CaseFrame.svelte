<script lang="ts">
  // A preview case in its own frame, scaled down. It follows changes of the draft.
  import type { PreviewCase } from "../../api/types";
  import { frameIn, hostOf } from "../conditions";
  import type { PocketEditor } from "../editor.svelte";
  import { Stage } from "../stage";

  let { editor, which }: { editor: PocketEditor; which: PreviewCase } = $props();
  const sight = $derived(editor.sight);
  const draft = $derived(editor.draft);
  const stage = new Stage();
  $effect(() => () => stage.close());
  let drawn = $state(0);
  stage.ondrawn = () => drawn++;
  let room = $state(0);
  let trouble = $state("");
  const width = $derived(which.conditions.width || 960);
  const scale = $derived(room ? Math.min(1, room / width) : 1);
  const high = 260;

  // Follows changes; a later draw replaces one that is running.
  $effect(() => {
    void [JSON.stringify(draft.values), draft.about.language];
    const mine = new AbortController();
    const waits = setTimeout(async () => {
      try {
        const shown = await sight.render(which.conditions, mine.signal);
        stage.draw(shown, hostOf(which.conditions, sight.long), frameIn(which.conditions, shown));
        trouble = "";
      } catch (error) {
        if (!mine.signal.aborted) trouble = (error as Error).message;
      }
    }, 120);
    return () => {
      clearTimeout(waits);
      mine.abort();
    };
  });
</script>

<div class="overflow-hidden border-t border-line bg-white" style:height="{high}px" bind:clientWidth={room}>
  {#if trouble}<p role="alert" class="p-4 text-bad">{trouble}</p>{/if}
  <iframe data-drawn={drawn} title="Preview: {which.name}" class="block origin-top-left border-0 bg-white" style:width="{width}px" style:height="{high / scale}px" style:transform="scale({scale})" sandbox="allow-scripts" src="{editor.publicBase}/preview" onload={(e) => stage.connect(e.currentTarget as HTMLIFrameElement)}></iframe>
</div>
