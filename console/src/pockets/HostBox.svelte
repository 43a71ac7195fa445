<script lang="ts">
  // Chooses the host for a link to steps, or for publishing several pockets on one page.
  import HostList from "../install/HostList.svelte";
  import Box from "../ui/Box.svelte";
  import type { Rows } from "./rows.svelte";

  let { rows }: { rows: Rows } = $props();
  const steps = $derived(rows.asking!.does == "steps");
  const count = $derived(rows.asking!.pockets.length);
</script>

<Box
  title={steps ? `Copy link to steps for “${rows.asking!.pockets[0].title}”` : `Publish ${count == 1 ? "1 pocket" : `${count} pockets`} for…`}
  about={steps ? "Choose what the page is built with." : "Choose a host: this publishes what is new, and copies all snippets for one page."}
  onclose={() => (rows.asking = null)}
  bare
>
  {#if rows.trouble}<p role="alert" class="mb-3 text-bad">{rows.trouble}</p>{/if}
  <HostList hosts={rows.hosts} places={rows.places} label={steps ? "Copy steps for" : "Publish for"} busy={rows.busy} choose={rows.choose} />
</Box>
