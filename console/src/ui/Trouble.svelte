<script lang="ts">
  import { Refused } from "../api/refused";
  import Button from "./Button.svelte";

  let { error, retry, words = "Try again" }: { error: Error; retry?: () => void; words?: string } = $props();
</script>

<div role="alert" class="mx-auto max-w-md px-6 py-16 text-center">
  <p class="text-lg font-semibold">{error.message}</p>
  {#if error instanceof Refused && error.hint}<p class="mt-1 text-soft">{error.hint}</p>{/if}
  {#if retry}<Button kind="plain" class="mt-5" onclick={retry}>{words}</Button>{/if}
</div>
