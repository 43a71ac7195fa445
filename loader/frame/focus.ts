// A preview must never take the keyboard from the console around it. Widgets move focus, a
// dialog that opens does too, and a frame that moves focus gets it. So focus moves only where
// it is in this frame already.
const focus = HTMLElement.prototype.focus;
HTMLElement.prototype.focus = function (options) {
  if (document.hasFocus()) focus.call(this, options);
};

function guard(owner: any, name: string) {
  const open = owner[name];
  if (!open) return;
  owner[name] = function (this: HTMLElement, ...options: unknown[]) {
    const was = this.inert;
    // Nothing in an inert element takes focus (HTML, "dialog focusing steps").
    this.inert ||= !document.hasFocus();
    try {
      open.apply(this, options);
    } finally {
      this.inert = was;
    }
  };
}
guard(HTMLDialogElement.prototype, "showModal");
guard(HTMLDialogElement.prototype, "show");
guard(HTMLElement.prototype, "showPopover");
export {};
