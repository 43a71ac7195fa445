// The facts that the page around a preview states about its visitor; see kit/facts.ts.
import { kebab } from "../kit/facts";

export function state(facts: Record<string, string> = {}) {
  const page = document.documentElement;
  for (const { name } of [...page.attributes]) if (name.startsWith("data-fact-")) page.removeAttribute(name);
  for (const [name, value] of Object.entries(facts)) page.setAttribute("data-fact-" + kebab(name), value);
}
