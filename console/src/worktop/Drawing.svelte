<script lang="ts">
  // A live rendering in its own frame, as visitors would see it.
  import type { Payload } from "../api/types";
  import { Frame } from "./frame";

  let { publicBase, label, payload, script = "", sheet = "" }: { publicBase: string; label: string; payload: Payload; script?: string; sheet?: string } = $props();
  const frame = new Frame();
  $effect(() => () => frame.close());
  $effect(() => {
    frame.draw({ draw: $state.snapshot(payload) as never, script, sheet, rules: 0, host: { page: "bare", copies: 1, long: false }, chosen: null });
  });
</script>

<figure class="min-w-0">
  <figcaption class="mb-1 text-sm text-soft">{label}</figcaption>
  <iframe title={label} class="block h-64 w-full rounded-lg border border-line bg-white" sandbox="allow-scripts" src="{publicBase}/worktop" onload={(e) => frame.connect(e.currentTarget as HTMLIFrameElement)}></iframe>
</figure>
