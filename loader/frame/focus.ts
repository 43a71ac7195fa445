// A preview must never take the keyboard focus from the console around it. Widgets and opening
// dialogs move the focus, and a frame that moves it gets it. So the focus only moves if it is in
// this frame already.
const focus = HTMLElement.prototype.focus;
HTMLElement.prototype.focus = function (options) {
  if (document.hasFocus()) focus.call(this, options);
};

function guard(owner: any, name: string) {
  const open = owner[name];
  if (!open) return;
  owner[name] = function (this: HTMLElement, ...options: unknown[]) {
    const was = this.inert;
    // Elements inside an inert one do not get the focus (HTML, "dialog focusing steps").
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
