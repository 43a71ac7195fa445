<script lang="ts">
  // All releases of a widget.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { Release } from "../api/types";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import ReleaseList from "./ReleaseList.svelte";

  let { name, title, onclose }: { name: string; title: string; onclose: () => void } = $props();
  let releases = $state.raw<Release[]>([]);
  let trouble = $state("");
  async function load() {
    try {
      releases = (await api.releases(name)).releases;
    } catch (error) {
      trouble = explain(error);
    }
  }
  // svelte-ignore state_referenced_locally: the dialog is for one widget
  void load();
</script>

<Box title="Releases of {title}" about="A withdrawn release is not used for new publications. You can put it back into use." wide {onclose} onsubmit={onclose}>
  {#if trouble}<p role="alert" class="text-bad">{trouble}</p>{/if}
  {#if releases.length}<ReleaseList {name} {releases} onchange={load} />{/if}
  {#snippet actions()}<Button type="submit">Close</Button>{/snippet}
</Box>
