<script lang="ts">
  import type { PocketEditor } from "./editor.svelte";
  import Field from "./Field.svelte";

  let { editor }: { editor: PocketEditor } = $props();
</script>

<form onsubmit={(e) => e.preventDefault()} aria-label="Settings">
  {#each editor.widget!.groups as group (group.name)}
    <fieldset class="border-b border-line px-5 pt-5 pb-1 last:border-0">
      <legend class="float-start mb-4 w-full text-[13px] font-semibold tracking-wide text-teal">{group.label.en}</legend>
      <div class="clear-both">
        {#each editor.widget!.settings.filter((s) => s.group == group.name && editor.matters(s)) as setting (setting.key)}
          <Field {setting} value={editor.value(setting.key)} fault={editor.faults[setting.key]} onchange={(value) => editor.set(setting.key, value)} />
        {/each}
      </div>
    </fieldset>
  {/each}
</form>
