// The part of the manage API about sources, apart from the rest because only some pages need it.
import { call } from "./client";
import type { ChangeSource, FailingSources, NewSelection, NewSource, Selection, Source, SourceFetches, SourceFound, SourceItems, SourceLook, SourceRefreshed, Sources } from "./types";

const customer = (id: string, rest = "") => `/customers/${encodeURIComponent(id)}/sources${rest}`;
const source = (id: string, rest = "") => `/sources/${encodeURIComponent(id)}${rest}`;

export const sources = {
  async list(of: string): Promise<Source[]> {
    const all: Source[] = [];
    for (let cursor = ""; ; ) {
      const page = await call<Sources>("GET", customer(of, `?limit=200${cursor ? `&cursor=${encodeURIComponent(cursor)}` : ""}`));
      all.push(...page.sources);
      if (!page.next) return all;
      cursor = page.next;
    }
  },
  failing: () => call<FailingSources>("GET", "/failing-sources").then((found) => found.sources),
  look: (of: string, look: SourceLook, signal?: AbortSignal) => call<SourceFound>("POST", customer(of, "/look"), { body: look, signal }),
  try: (look: SourceLook, signal?: AbortSignal) => call<SourceFound>("POST", "/guest-pockets/sources/look", { body: look, signal }), // without an account
  connect: (of: string, chosen: NewSource) => call<Source>("POST", customer(of), { body: chosen }),
  read: (id: string) => call<Source>("GET", source(id)),
  change: (id: string, match: number, change: ChangeSource) => call<Source>("PATCH", source(id), { body: change, match }),
  remove: (id: string) => call<void>("DELETE", source(id)),
  lookAt: (id: string, look: SourceLook, signal?: AbortSignal) => call<SourceFound>("POST", source(id, "/look"), { body: look, signal }),
  refresh: (id: string) => call<SourceRefreshed>("POST", source(id, "/refresh")),
  items: (id: string, search = "", cursor = "") => call<SourceItems>("GET", source(id, `/items?${new URLSearchParams({ limit: "50", ...(search && { search }), ...(cursor && { cursor }) })}`)),
  fetches: (id: string) => call<SourceFetches>("GET", source(id, "/fetches")),
  select: (key: string, list: string, ask: NewSelection, signal?: AbortSignal) => call<Selection>("POST", `/pockets/${encodeURIComponent(key)}/lists/${encodeURIComponent(list)}/selection`, { body: ask, signal }),
};
