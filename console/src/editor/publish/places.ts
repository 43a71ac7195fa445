// Where a pocket goes on a site: the choices before a host is chosen, and what the rules say.
import type { Cues } from "../../api/types";

export type Where = "" | "site" | "home";
export const wheres: [Where, string][] = [
  ["", "One page"],
  ["site", "Every page"],
  ["home", "Home page"],
];

const home = ["/"];
const same = (a: string[] | undefined, b: string[]) => a?.length == b.length && b.every((v, i) => a[i] == v);

// The place that the rules already say.
export const whereOf = (cues: Cues | undefined): Where => (same(cues?.only, home) ? "home" : "");

// The rules after a choice of place, or what keeps them from fitting.
export function rulesFor(where: Where, cues: Cues | undefined): { cues?: Cues; contradicts?: string } {
  const only = cues?.only ?? [];
  if (where == "home" && only.length && !same(only, home)) return { contradicts: `A rule shows this pocket only at ${only.slice(0, 3).join(", ")}${only.length > 3 ? " …" : ""}, so it would not show on the home page.` };
  if (where == "home") return same(only, home) ? {} : { cues: { ...cues, only: home } };
  if (same(only, home)) {
    const { only: _, ...rest } = cues!;
    return { cues: rest };
  }
  return {};
}
