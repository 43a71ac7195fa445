<script lang="ts">
  // Properties of the pocket itself: its name and its language.
  import { languageNames } from "./conditions";
  import type { PocketEditor } from "./editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const draft = $derived(editor.draft);
</script>

<fieldset class="border-b border-line px-5 pt-5 pb-1 last:border-0">
  <legend class="float-start mb-4 w-full text-[13px] font-semibold tracking-wide text-teal">This pocket</legend>
  <div class="clear-both">
    <div class="mb-5" data-path="pocket/title">
      <label class="mb-1.5 block font-medium" for="about-title">Name</label>
      <input id="about-title" class="field" maxlength="120" value={draft.about.title as string} oninput={(e) => e.currentTarget.value.trim() && draft.set("pocket/title", e.currentTarget.value)} aria-describedby="about-title-about" />
      <p id="about-title-about" class="mt-1.5 text-sm text-soft">Used in lists, as the page title, and by screen readers.</p>
    </div>
    <div class="mb-5" data-path="pocket/language">
      <label class="mb-1.5 block font-medium" for="about-language">Language</label>
      <select id="about-language" class="field" value={draft.about.language as string} onchange={(e) => draft.set("pocket/language", e.currentTarget.value)} aria-describedby="about-language-about">
        {#each editor.widget!.languages as language (language)}<option value={language}>{languageNames.of(language)}</option>{/each}
      </select>
      <p id="about-language-about" class="mt-1.5 text-sm text-soft">For the widget's own texts, dates and numbers. Your texts are not translated.</p>
    </div>
  </div>
</fieldset>
