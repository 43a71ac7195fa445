<script lang="ts">
  import type { Snippet } from "svelte";
  import type { HTMLButtonAttributes } from "svelte/elements";

  let { kind = "main", class: extra = "", children, ...rest }: { kind?: "main" | "plain" | "grave"; children: Snippet } & HTMLButtonAttributes = $props();
  const look = {
    main: "bg-teal text-on-teal hover:brightness-110 disabled:bg-sunk disabled:text-soft disabled:hover:brightness-100",
    plain: "border border-edge bg-sheet text-ink hover:bg-sunk",
    grave: "border border-bad bg-sheet text-bad hover:bg-sunk", // what cannot be undone
  };
</script>

<button type="button" class={["inline-flex min-h-9 items-center justify-center gap-2 rounded-lg px-4 py-1.5 font-medium", look[kind], extra]} {...rest}>
  {@render children()}
</button>
