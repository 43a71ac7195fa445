<script lang="ts">
  import { provideEditor } from "./context";
  import type { PocketEditor } from "./editor.svelte";
  import Field from "./Field.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  // svelte-ignore state_referenced_locally: a form lives as long as its editor
  provideEditor(editor);
</script>

<form onsubmit={(e) => e.preventDefault()} aria-label="Settings">
  {#each editor.widget!.groups as group (group.name)}
    <fieldset class="border-b border-line px-5 pt-5 pb-1 last:border-0">
      <legend class="float-start mb-4 w-full text-[13px] font-semibold tracking-wide text-teal">{group.label.en}</legend>
      <div class="clear-both">
        {#each editor.widget!.settings.filter((s) => s.group == group.name && editor.matters(s)) as setting (setting.key)}
          <Field
            {setting}
            value={editor.value(setting.key)}
            path={setting.key}
            faults={editor.faults}
            onchange={(value) => editor.set(setting.key, value)}
            small={editor.small[setting.key]}
            onsmall={setting.small ? (value) => editor.setSmall(setting.key, value) : undefined}
          />
        {/each}
      </div>
    </fieldset>
  {/each}
  {#if editor.aside.length}
    <p class="px-5 py-4 text-sm text-soft">Kept from another release, and not shown by this one: <code>{editor.aside.join(", ")}</code>.</p>
  {/if}
</form>
