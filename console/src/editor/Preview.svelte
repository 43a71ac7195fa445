<script lang="ts">
  import Segments from "../ui/Segments.svelte";
  import type { PocketEditor } from "./editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  let width = $state("wide");
  let page = $state("light");
  let height = $state(200);
  let fault = $state("");
  let drawn = $state(0);
  const pages: Record<string, string> = { light: "#ffffff", tinted: "#e8ece9", dark: "#10151f" };
  const widths: Record<string, string> = { phone: "328px", column: "560px", wide: "100%" };

  const stage = $derived(editor.stage);
  $effect(() => {
    // What lies over the page gets a window to lie in.
    stage.onheight = (h) => (height = editor.widget?.floats ? 560 : Math.max(40, Math.ceil(h)));
    stage.onerror = (what) => (fault = what);
    stage.ondrawn = () => {
      fault = "";
      drawn++;
    };
    return () => stage.close();
  });
</script>

<section aria-label="Preview" class="flex h-full min-w-0 flex-col">
  <div class="flex flex-wrap items-center justify-between gap-3 px-6 pt-5">
    <Segments
      value={width}
      label="Width of the room that the widget gets"
      options={[
        { value: "phone", label: "Phone" },
        { value: "column", label: "Column" },
        { value: "wide", label: "Wide" },
      ]}
      onchange={(v) => (width = v)}
    />
    <Segments
      value={page}
      label="Page behind the widget"
      options={[
        { value: "light", label: "Light page" },
        { value: "tinted", label: "Tinted" },
        { value: "dark", label: "Dark" },
      ]}
      onchange={(v) => (page = v)}
    />
  </div>
  <div class="m-6 mt-4 flex min-h-0 flex-1 items-start justify-center overflow-auto rounded-xl border border-line p-6 pt-12 lg:p-12" style:background={pages[page]}>
    <div class="max-w-[760px]" style:width={widths[width]}>
      {@render text(["55%", "92%", "84%"])}
      <iframe
        title="Preview of the widget"
        class="block w-full border-0"
        style:height="{height}px"
        sandbox="allow-scripts"
        data-drawn={drawn}
        src="{editor.publicBase}/preview"
        onload={(e) => stage.connect(e.currentTarget as HTMLIFrameElement)}
      ></iframe>
      {@render text(["96%", "88%", "94%", "41%"])}
    </div>
  </div>
  {#if fault}<p role="alert" class="px-6 pb-4 text-bad">The widget's script stopped: {fault}</p>{/if}
</section>

<!-- Where the host's own text would stand, so that the widget is seen among something. -->
{#snippet text(lines: string[])}
  <div class="my-7 space-y-3" aria-hidden="true">
    {#each lines as line, i (i)}<div class="h-2.5 rounded-full" style:width={line} style:background={page == "dark" ? "#ffffff14" : "#1a2b4012"}></div>{/each}
  </div>
{/snippet}
