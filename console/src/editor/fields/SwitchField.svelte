<script lang="ts">
  import { Switch } from "bits-ui";
  import type { FieldProps } from "./types";

  let { value, id, describedby, onchange }: FieldProps = $props();
</script>

<Switch.Root {id} checked={value as boolean} onCheckedChange={onchange} aria-labelledby="{id}-label" aria-describedby={describedby} class="relative h-6 w-11 rounded-full bg-edge data-[state=checked]:bg-teal">
  <Switch.Thumb class="block size-5 translate-x-0.5 rounded-full bg-white transition-transform data-[state=checked]:translate-x-[22px] dark:bg-sheet" />
</Switch.Root>
