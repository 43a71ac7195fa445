<script lang="ts">
  // A place in a text, shown within its line.
  let { text, from, to }: { text: string; from: number; to: number } = $props();
  const before = $derived(text.slice(text.lastIndexOf("\n", from - 1) + 1, from).trimStart());
  const after = $derived(text.slice(to).split("\n", 1)[0].trimEnd());
  const found = $derived(text.slice(from, to));
</script>

<span class="truncate font-mono text-[13px] text-soft" title={before + found + after}
  >{before.length > 18 ? `…${before.slice(-16)}` : before}<mark class="bg-transparent font-semibold text-ink">{found}</mark>{after}</span
>
