// Duplicates a widget: a draft with its own name, from the worktop's draft or else the newest release.
import { api } from "../api/client";
import { Refused } from "../api/refused";
import { nameFrom } from "./name";

// Returns the name of the copy.
export async function duplicateWidget(name: string, title: string): Promise<string> {
  const [widgets, drafts] = await Promise.all([api.widgets(), api.widgetDrafts()]);
  const taken = new Set([...widgets.widgets.map((w) => w.name), ...(widgets.releaseless ?? []), ...drafts.drafts.map((d) => d.widget)]);
  const released = widgets.widgets.some((w) => w.name == name);
  for (let n = 1; ; n++) {
    const made = nameFrom(`${name.slice(0, 33)}-copy${n > 1 ? `-${n}` : ""}`);
    if (taken.has(made)) continue;
    const called = `Copy of ${title}${n > 1 ? ` ${n}` : ""}`;
    try {
      if (released) await api.startWidgetDraft(made, { from: name, title: called });
      else {
        const files = (await api.widgetDraft(name)).files ?? [];
        await api.startWidgetDraft(made, { files: files.map(({ path, text, base64 }) => (text === undefined ? { path, base64 } : { path, text: path == "widget.json" ? renamed(text, made, called) : text })) });
      }
      return made;
    } catch (error) {
      if (!(error instanceof Refused && error.status == 409) || n > 20) throw error; // made meanwhile by somebody else
    }
  }
}

function renamed(manifest: string, name: string, title: string): string {
  try {
    const m = JSON.parse(manifest);
    return JSON.stringify({ ...m, name, title: Object.fromEntries(Object.keys(m.title ?? { en: "" }).map((language) => [language, title])) }, null, 2) + "\n";
  } catch {
    return manifest; // the check reports it
  }
}

// Duplicates a starter in its widget's draft, where it can be changed and released.
export async function duplicateStarter(widget: string, starter: string): Promise<void> {
  const draft = await api.widgetDraft(widget).catch(async (error) => {
    if (!(error instanceof Refused && error.status == 404)) throw error;
    await api.startWidgetDraft(widget, {});
    return api.widgetDraft(widget);
  });
  const files = draft.files ?? [];
  const source = files.find((f) => f.path == `starters/${starter}.json`)?.text;
  if (source === undefined) throw new Refused(404, "starter-not-found", `The draft of ${widget} has no starter ${starter}.`, "Open the worktop to see its starters.");
  let name = `${starter}-copy`;
  for (let n = 2; files.some((f) => f.path == `starters/${name}.json`); n++) name = `${starter}-copy-${n}`;
  const value = JSON.parse(source);
  const title = Object.fromEntries(Object.entries(value.title ?? { en: starter }).map(([language, words]) => [language, `${words} 2`]));
  await api.changeWidgetDraft(widget, [{ path: `starters/${name}.json`, text: JSON.stringify({ ...value, title }, null, 2) + "\n" }]);
}
