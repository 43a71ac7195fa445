<script lang="ts">
  // Faults, and the script's output, with the author's file and line.
  import type { At } from "./script";
  import type { Worktop } from "./worktop.svelte";

  let { worktop, wrong, onopen }: { worktop: Worktop; wrong: number; onopen: (at: At) => void } = $props();
  let tab = $state<"faults" | "said">("faults");
  const warnings = $derived(worktop.faults.length - wrong);
  const failures = $derived(worktop.previews.messages.filter((m) => m.level == "error").length);
  const head = "min-h-9 border-b-2 border-transparent px-1 text-sm font-medium text-soft hover:text-ink aria-selected:border-teal aria-selected:text-ink";
  const place = "shrink-0 rounded font-mono text-[13px] text-teal underline-offset-4 hover:underline";
  const colour: Record<string, string> = { error: "text-bad", warn: "text-warn", log: "", info: "", debug: "text-soft" };
</script>

<section aria-label="Messages" class="flex h-44 shrink-0 flex-col border-t border-line bg-sheet">
  <div class="flex items-center gap-5 border-b border-line px-4" role="tablist">
    <button type="button" role="tab" aria-selected={tab == "faults"} class={head} onclick={() => (tab = "faults")}>
      Faults {#if wrong}<span class="ms-1 text-bad tabular-nums">{wrong}</span>{/if}{#if warnings}<span class="ms-1 text-warn tabular-nums" title="warnings">{warnings}</span>{/if}
    </button>
    <button type="button" role="tab" aria-selected={tab == "said"} class={head} onclick={() => (tab = "said")}>
      Console {#if failures}<span class="ms-1 text-bad tabular-nums">{failures}</span>{:else if worktop.previews.messages.length}<span class="ms-1 text-soft tabular-nums">{worktop.previews.messages.length}</span>{/if}
    </button>
    {#if tab == "said" && worktop.previews.messages.length}
      <button type="button" class="ms-auto text-sm text-soft underline-offset-4 hover:underline" onclick={() => (worktop.previews.messages = [])}>Clear</button>
    {/if}
  </div>
  <div class="min-h-0 flex-1 overflow-auto px-4 py-1.5">
    {#if tab == "faults"}
      {#each worktop.faults as f (f)}
        <div class="flex gap-3 border-b border-line/60 py-1.5 text-sm last:border-0">
          <button type="button" class={place} onclick={() => onopen({ path: f.path, line: Math.max(1, f.line), column: Math.max(1, f.column) })}>{f.path}{f.line ? `:${f.line}` : ""}</button>
          <p class="min-w-0"><span class={f.warning ? "text-warn" : "text-bad"}>{f.what}</span> <span class="text-soft">{f.fix}</span></p>
        </div>
      {:else}
        <p class="py-2 text-sm text-soft">{worktop.sound ? "There are no faults. You can release this draft." : "Checking…"}</p>
      {/each}
    {:else}
      {#each worktop.previews.messages as m (m)}
        <div class="flex gap-3 border-b border-line/60 py-1 text-sm last:border-0">
          {#if m.at}
            {@const at = m.at}
            <button type="button" class={place} onclick={() => onopen(at)}>{at.path}:{at.line}</button>
          {/if}
          <p class={["min-w-0 font-mono text-[13px] break-words whitespace-pre-wrap", colour[m.level]]}>{m.text}{#if m.times > 1}<span class="ms-2 rounded-full bg-sunk px-1.5 text-soft">{m.times}×</span>{/if}</p>
          {#if worktop.previews.beside}<span class="ms-auto shrink-0 text-soft">{m.of}</span>{/if}
        </div>
      {:else}
        <p class="py-2 text-sm text-soft">There are no messages. The output and errors of the script appear here, with your own file names and lines.</p>
      {/each}
    {/if}
  </div>
</section>
