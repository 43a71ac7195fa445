<script>
  import Pocket from "./Pocket.svelte";

  let page = $state("kiln");
</script>

<button id="kiln" onclick={() => (page = "kiln")}>Kiln</button>
<button id="ferry" onclick={() => (page = "ferry")}>Ferry</button>
{#if page == "kiln"}<main><h1>The kiln</h1><Pocket /><Pocket /></main>{:else}<main><h1>The ferry</h1></main>{/if}
