<script lang="ts">
  // A modal dialog (ARIA dialog).
  import { Dialog } from "bits-ui";
  import type { Snippet } from "svelte";
  import { focusBack } from "./focus";

  // bare: the content has its own form.
  type Props = { title: string; about?: string; wide?: boolean; bare?: boolean; onclose: () => void; onsubmit?: () => void; children: Snippet; actions?: Snippet };
  let { title, about = "", wide = false, bare = false, onclose, onsubmit, children, actions }: Props = $props();
  let content = $state<HTMLElement | null>(null);
  const before = document.activeElement;
  $effect(() => () => focusBack(before));

  // Focuses what the dialog asks for, not the close button. It may appear later, or change after an
  // answer.
  const wanted = ["[autofocus]", "input[type=radio]:checked, input:not([type=checkbox], [type=radio], :disabled), textarea, select:not(:disabled)", "button[type=submit]:not(:disabled)"];
  function settle() {
    const at = document.activeElement;
    if (!content || (at != content && at != document.body && at?.isConnected && content.contains(at))) return;
    for (const kind of wanted) {
      const control = content.querySelector<HTMLElement>(kind);
      if (control) return control.focus();
    }
    content.focus();
  }
  $effect(() => {
    if (!content) return;
    const watch = new MutationObserver(settle);
    watch.observe(content, { subtree: true, childList: true, attributeFilter: ["disabled"] });
    return () => watch.disconnect();
  });
</script>

<Dialog.Root open onOpenChange={(on) => !on && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/45" />
    <Dialog.Content
      bind:ref={content}
      onCloseAutoFocus={(e) => e.preventDefault()}
      onOpenAutoFocus={(e) => {
        e.preventDefault();
        settle();
      }}
      class={["fixed inset-0 z-50 m-auto flex h-fit max-h-[88vh] flex-col rounded-2xl border border-line bg-paper shadow-2xl", wide ? "w-[min(960px,calc(100vw-2rem))]" : "w-[min(560px,calc(100vw-2rem))]"]}
    >
      <svelte:element
        this={bare ? "div" : "form"}
        class="flex min-h-0 flex-col"
        onsubmit={(e: Event) => {
          if (bare) return;
          e.preventDefault();
          onsubmit?.();
        }}
      >
        <div class="flex items-start justify-between gap-4 border-b border-line px-6 py-4">
          <div class="min-w-0">
            <Dialog.Title class="text-lg font-semibold">{title}</Dialog.Title>
            {#if about}<Dialog.Description class="text-sm text-soft">{about}</Dialog.Description>{/if}
          </div>
          <!-- Within a form, a button without a type would submit it. -->
          <Dialog.Close type="button" class="rounded px-2 py-1 text-soft hover:text-ink" aria-label="Close">✕</Dialog.Close>
        </div>
        <div class="min-h-0 flex-1 overflow-y-auto px-6 py-4">{@render children()}</div>
        {#if actions}<div class="flex flex-wrap items-center justify-end gap-3 border-t border-line px-6 py-4">{@render actions()}</div>{/if}
      </svelte:element>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
