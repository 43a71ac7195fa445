<script lang="ts">
  // Asks once, before the first publication: visitors do not get sample entries.
  import Box from "../../ui/Box.svelte";
  import Button from "../../ui/Button.svelte";
  import type { Flow } from "./flow.svelte";

  let { flow }: { flow: Flow } = $props();
  const lists = $derived(flow.editor.samplesLeft.map((s) => s.label.en).join(", "));
  // svelte-ignore state_referenced_locally: the dialog is created for each question
  const on = flow.asking!;
  function adopt() {
    flow.editor.adoptSamples();
    on();
  }
</script>

<Box title="Publish the sample entries?" about="{lists}: there are only sample entries, and visitors do not get samples." onclose={() => (flow.asking = null)} onsubmit={adopt}>
  <p>Use the samples to show them to visitors as they are. Without them, visitors see an empty widget.</p>
  {#snippet actions()}
    <Button kind="plain" class="me-auto" onclick={() => (flow.asking = null)}>Cancel</Button>
    <Button kind="plain" onclick={on}>Publish without entries</Button>
    <Button type="submit">Use the samples</Button>
  {/snippet}
</Box>
