<script lang="ts" generics="Given extends Record<string, unknown>">
  // A page that is loaded when it is opened. Another value of again loads it again.
  import type { Component } from "svelte";
  import Header from "./Header.svelte";
  import Trouble from "./Trouble.svelte";

  // given: the page's props.
  let { page, given, again = "" }: { page: () => Promise<{ default: Component<Given> }>; given: Given; again?: string } = $props();
</script>

{#await page() then { default: Page }}
  {#key again}<Page {...given} />{/key}
{:catch}
  <Header />
  <Trouble error={new Error("This page could not be loaded.")} retry={() => location.reload()} />
{/await}
