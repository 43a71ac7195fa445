<script lang="ts">
  // All changes to this pocket.
  import type { Entry } from "../../api/types";
  import AuditList from "../../audit/AuditList.svelte";
  import type { PocketEditor } from "../editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  let open = $state(false);
  const said = (e: Entry) =>
    e.did == "change" && e.names?.length
      ? `changed ${e.names.slice(0, 4).map((n) => editor.label(n == "title" || n == "language" || n == "starter" ? `pocket/${n}` : n)).join(", ")}${e.names.length > 4 ? ` and ${e.names.length - 4} more` : ""}`
      : e.sentence.replace(`pocket ${editor.key}`, "it");
</script>

<details class="mt-6 border-t border-line pt-4" bind:open>
  <summary class="cursor-pointer rounded font-medium">All changes</summary>
  {#if open}<div class="mt-2"><AuditList which={{ kind: "pocket", of: editor.key }} {said} /></div>{/if}
</details>
