<script lang="ts">
  // A box over the page that asks one thing (the ARIA dialog).
  import { Dialog } from "bits-ui";
  import type { Snippet } from "svelte";

  type Props = { title: string; about?: string; wide?: boolean; onclose: () => void; onsubmit?: () => void; children: Snippet; actions?: Snippet };
  let { title, about = "", wide = false, onclose, onsubmit, children, actions }: Props = $props();
</script>

<Dialog.Root open onOpenChange={(on) => !on && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/45" />
    <Dialog.Content
      onOpenAutoFocus={(e) => {
        // What it asks for, not the way out.
        e.preventDefault();
        (e.currentTarget as HTMLElement | null)?.querySelector<HTMLElement>("[autofocus], input:not([type=checkbox]), textarea, button[type=submit]")?.focus();
      }}
      class={["fixed inset-0 z-50 m-auto flex h-fit max-h-[88vh] flex-col rounded-2xl border border-line bg-paper shadow-2xl", wide ? "w-[min(960px,calc(100vw-2rem))]" : "w-[min(560px,calc(100vw-2rem))]"]}
    >
      <form
        class="flex min-h-0 flex-col"
        onsubmit={(e) => {
          e.preventDefault();
          onsubmit?.();
        }}
      >
        <div class="flex items-start justify-between gap-4 border-b border-line px-6 py-4">
          <div class="min-w-0">
            <Dialog.Title class="text-lg font-semibold">{title}</Dialog.Title>
            {#if about}<Dialog.Description class="text-sm text-soft">{about}</Dialog.Description>{/if}
          </div>
          <!-- Within a form a button without a type would submit it. -->
          <Dialog.Close type="button" class="rounded px-2 py-1 text-soft hover:text-ink" aria-label="Close">✕</Dialog.Close>
        </div>
        <div class="min-h-0 flex-1 overflow-y-auto px-6 py-4">{@render children()}</div>
        {#if actions}<div class="flex flex-wrap items-center justify-end gap-3 border-t border-line px-6 py-4">{@render actions()}</div>{/if}
      </form>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
