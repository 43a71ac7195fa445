<script lang="ts">
  // Everything that anybody has changed of this pocket.
  import { api } from "../../api/client";
  import type { Entry } from "../../api/types";
  import { ago, exactly } from "../../ui/time";
  import type { PocketEditor } from "../editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  let entries = $state<Entry[]>([]);
  let next = $state("");
  async function load(more = false) {
    const page = await api.trail(editor.key, more ? next : "");
    entries = more ? [...entries, ...page.entries] : page.entries;
    next = page.next ?? "";
  }
  const said = (e: Entry) =>
    e.did == "change" && e.names?.length
      ? `changed ${e.names.slice(0, 4).map((n) => editor.label(n == "title" || n == "language" || n == "starter" ? `pocket/${n}` : n)).join(", ")}${e.names.length > 4 ? ` and ${e.names.length - 4} more` : ""}`
      : e.sentence.replace(`pocket ${editor.key}`, "it");
</script>

<details class="mt-6 border-t border-line pt-4" ontoggle={(e) => e.currentTarget.open && load()}>
  <summary class="cursor-pointer rounded font-medium">Everything that was changed</summary>
  <ol class="mt-2">
    {#each entries as e (e.id)}
      <li class="border-b border-line py-2 text-sm last:border-0"><span class="font-medium">{e.by}</span> {said(e)} <span class="whitespace-nowrap text-soft" title={exactly(e.at)}>{ago(e.at)}</span></li>
    {/each}
  </ol>
  {#if next}<button type="button" class="mt-2 rounded text-sm underline underline-offset-4" onclick={() => load(true)}>Show older</button>{/if}
</details>
