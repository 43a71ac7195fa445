// The operator's version of a host profile: only the differences.
import type { Place, Profile } from "../api/types";

export interface OwnStep {
  say: string;
  image?: string;
  alt?: string;
}

// A step of a profile is a text, or an object.
export const stepOf = (step: unknown): OwnStep => (typeof step == "string" ? { say: step } : { ...(step as OwnStep) });

const written = (step: OwnStep) => (step.image ? step : step.say);
const same = (a: unknown, b: unknown) => JSON.stringify(a) == JSON.stringify(b);

// The file of an operator's version: the differences between edited and base, the built-in profile.
// Without a base, it is the whole profile.
export function ownOf(base: Profile | null, edited: Profile): Record<string, unknown> {
  if (!base) return { ...edited, places: edited.places.map((p) => ({ ...p, steps: stepsOf(p) })) };
  const own: Record<string, unknown> = { format: 1, name: edited.name, extends: base.name, language: edited.language };
  for (const key of ["title", "summary", "signs", "after", "pitfalls"] as const) if (!same(base[key], edited[key])) own[key] = edited[key];
  const places = edited.places.flatMap((place) => {
    const from = base.places.find((p) => p.name == place.name);
    const other: Record<string, unknown> = { name: place.name };
    if (from?.title != place.title) other.title = place.title;
    if (!same(from?.editor, place.editor)) other.editor = place.editor;
    const steps = stepsOf(place);
    const before = from ? stepsOf(from) : {};
    const changed = Object.fromEntries(Object.entries(steps).filter(([where, list]) => !same(list, before[where])));
    if (Object.keys(changed).length) other.steps = changed;
    return Object.keys(other).length > 1 ? [other] : [];
  });
  if (places.length) own.places = places;
  return own;
}

const stepsOf = (place: Place): Record<string, unknown[]> => Object.fromEntries(Object.entries(place.steps).map(([where, list]) => [where, list.map((s) => written(stepOf(s)))]));
