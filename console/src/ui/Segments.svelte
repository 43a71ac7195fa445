<script lang="ts">
  // A few exclusive options side by side (ARIA radio group).
  import { RadioGroup } from "bits-ui";

  // pairs: two per row if there is not enough space.
  // The radio group takes an empty value for no choice, which the arrow keys cannot leave.
  const empty = "(empty)";
  let { value, options, label, labelledby, pairs = false, onchange }: { value: string; options: { value: string; label: string }[]; label?: string; labelledby?: string; pairs?: boolean; onchange: (value: string) => void } = $props();
</script>

<RadioGroup.Root value={value || empty} onValueChange={(v) => onchange(v == empty ? "" : v)} orientation="horizontal" aria-label={label} aria-labelledby={labelledby} class="flex flex-wrap gap-0.5 rounded-lg bg-sunk p-0.5">
  {#each options as option (option.value)}
    <RadioGroup.Item
      value={option.value || empty}
      class={["min-h-8 flex-auto rounded-md px-3 py-1 text-sm text-soft hover:text-ink data-[state=checked]:bg-sheet data-[state=checked]:font-medium data-[state=checked]:text-ink data-[state=checked]:shadow-sm", pairs && "max-sm:basis-2/5"]}
      >{option.label}</RadioGroup.Item
    >
  {/each}
</RadioGroup.Root>
