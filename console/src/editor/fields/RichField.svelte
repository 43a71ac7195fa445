<script lang="ts">
  // Rich text, edited as it looks. The service sanitises it.
  import { useEditor } from "../context";
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const editor = useEditor();
  let box: HTMLElement;
  let last = "";
  // Draws changes from elsewhere. Text that was typed here is already shown.
  $effect(() => {
    const text = String(value ?? "");
    if (text != last) box.innerHTML = last = text;
  });
  function changed() {
    last = box.innerHTML;
    onchange(last);
  }
  function run(command: string, argument?: string) {
    box.focus();
    document.execCommand(command, false, argument);
    changed();
  }
  function link() {
    const address = prompt("Link address. Leave it empty to delete the link.", "https://");
    if (address === null) return;
    run(address.trim() && address != "https://" ? "createLink" : "unlink", address.trim());
  }
  function paste(event: ClipboardEvent) {
    event.preventDefault();
    document.execCommand("insertText", false, event.clipboardData?.getData("text/plain") ?? "");
  }
  const tools: [string, string, () => void][] = [
    ["Bold", "font-bold", () => run("bold")],
    ["Italic", "italic", () => run("italic")],
    ["List", "", () => run("insertUnorderedList")],
    ["Link", "underline", link],
  ];
</script>

<div class={["field p-0!", invalid && "border-bad!"]}>
  <div role="toolbar" aria-label="{setting.label.en}: formatting" class="flex gap-1 border-b border-line p-1">
    {#each tools as [name, look, do_] (name)}<button type="button" class={["rounded px-2 py-0.5 text-sm hover:bg-sunk", look]} onmousedown={(e) => e.preventDefault()} onclick={do_}>{name}</button>{/each}
  </div>
  <div bind:this={box} {id} role="textbox" tabindex="0" aria-multiline="true" aria-labelledby="{id}-label" aria-describedby={describedby} contenteditable={!editor.readonly} aria-readonly={editor.readonly} class="rich min-h-24 px-3 py-2" oninput={changed} onpaste={paste}></div>
</div>
