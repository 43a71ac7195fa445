<script lang="ts">
  // Whether the last changes are saved.
  import type { Draft } from "./draft.svelte";

  let { draft }: { draft: Draft } = $props();
  const words = { saved: "Draft saved", waiting: "Saving…", saving: "Saving…", faulty: "Not saved", collided: "Not saved", refused: "Not saved", away: "Not saved" };
  const about = $derived(
    draft.state == "faulty"
      ? "Some settings have faults, which are marked. The other settings are saved."
      : draft.state == "collided"
        ? "Somebody else has changed the same setting: say which one counts."
        : draft.state == "away"
          ? "The service does not answer. Your changes are kept in this browser and saved when it answers again."
          : draft.state == "refused"
            ? draft.trouble
            : "",
  );
</script>

<span class={["text-sm", about ? "font-medium text-bad" : "text-soft max-sm:sr-only"]} title={about || undefined}>
  <span role="status">{words[draft.state]}</span>
  {#if draft.state == "away"}<span class="font-normal max-sm:hidden"> · kept on this page until the service answers</span>{/if}
</span>
