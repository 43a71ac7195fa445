<script lang="ts">
  // The differences between two folders: settings first, then files with their lines.
  import type { Changes } from "../api/types";

  let { changes }: { changes: Pick<Changes, "settings" | "files"> } = $props();
  const signs: Record<string, string> = { added: "+", removed: "−", changed: "~" };
</script>

{#if changes.settings.length}
  <h4 class="mt-3 mb-1 text-sm font-semibold text-teal">Settings</h4>
  <ul class="divide-y divide-line overflow-hidden rounded-lg border border-line bg-sheet text-sm">
    {#each changes.settings as s (s.key + s.kind)}
      <li class="flex gap-3 px-3 py-1.5">
        <span class="w-4 shrink-0 text-center font-mono" aria-hidden="true">{signs[s.kind]}</span>
        <div class="min-w-0">
          <p><strong class="font-medium">{s.label}</strong> <span class="text-soft">{s.kind}</span></p>
          {#each s.what ?? [] as what (what)}<p class="font-mono text-[13px] break-words text-soft">{what}</p>{/each}
        </div>
      </li>
    {/each}
  </ul>
{/if}
{#if changes.files.length}
  <h4 class="mt-3 mb-1 text-sm font-semibold text-teal">Files</h4>
  <ul class="divide-y divide-line overflow-hidden rounded-lg border border-line bg-sheet text-sm">
    {#each changes.files as f (f.path)}
      <li class="px-3 py-1.5">
        <details class="group">
          <summary class="flex cursor-pointer items-baseline gap-3">
            <span class="w-4 shrink-0 text-center font-mono" aria-hidden="true">{signs[f.kind]}</span>
            <span class="min-w-0 flex-1 truncate font-mono text-[13px]">{f.path}</span>
            <span class="shrink-0 text-soft tabular-nums">{f.kind == "changed" ? "" : f.kind} {f.more ? `+${f.more}` : ""} {f.fewer ? `−${f.fewer}` : ""}</span>
            <span class="shrink-0 text-soft transition-transform group-open:rotate-90" aria-hidden="true">›</span>
          </summary>
          {#if f.diff}
            <pre class="mt-2 max-h-60 overflow-auto rounded bg-sunk p-2 font-mono text-[12px] leading-5">{#each f.diff.split("\n") as line, i (i)}<span class={line.startsWith("+") ? "text-teal" : line.startsWith("-") ? "text-bad" : "text-soft"}>{line}{"\n"}</span>{/each}</pre>
          {:else}<p class="mt-1 text-soft">The content is not shown here.</p>{/if}
        </details>
      </li>
    {/each}
  </ul>
{/if}
{#if changes.settings.length + changes.files.length == 0}<p class="mt-2 text-sm text-soft">Nothing.</p>{/if}
