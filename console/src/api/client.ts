// The manage API for the console. Only this folder sends requests.
import type { Places, UsedPlace, Task, Tasks, GuestPocket, Guided, HandedOver, Handover, Handovers, HostProfile, Hosts, Install, SaveHost, Sealed, TriedOn, TryOn, Brand, BrandValue, ChangeCustomer, Customer, Gallery, GalleryPreviews, Invitation, Invited, Job, Jobs, NewJob, People, PocketFile, Restyled, ChangePocket, Conditions, NewSchedule, PocketDifferences, Preview, PreviewCase, PreviewCases, Previewed, Schedules, StarterDifferences, Audit, Asset, Assets, Case, Checked, Draft, DraftFile, BeforeAndAfter, Differences, DryRun, NewRelease, NewWidgetDraft, Origin, Packed, Page, Release, ReleaseFolder, ReleaseUses, Releases, ImportedPage, PreviewedWidget, WidgetDraft, WidgetDrafts, Widgets, Fault, Payload, Pocket, Pockets, Customers, Problem, Publication, Publications, Session, Snippets, Widget, Height } from "./types";
import { Refused } from "./refused";

type Ask = { body?: unknown; kind?: string; match?: number; signal?: AbortSignal; keepalive?: boolean };

// How often a request is repeated after a rate limit. Requests without an account are limited per
// second, and somebody who types fast must not see an error.
const againMost = 5;

export async function call<T>(method: string, path: string, ask: Ask = {}, again = 0): Promise<T> {
  const headers: Record<string, string> = {};
  if (ask.body !== undefined) headers["Content-Type"] = ask.kind ?? "application/json";
  if (ask.match) headers["If-Match"] = `"${ask.match}"`;
  let response: Response;
  try {
    response = await fetch(`/api/v1${path}`, { method, headers, body: ask.body === undefined ? undefined : JSON.stringify(ask.body), signal: ask.signal, keepalive: ask.keepalive });
  } catch (error) {
    if (ask.signal?.aborted) throw error;
    throw new Refused(0, "unreachable", "The service does not answer.", "Check that it is running. Your input is still on this page.");
  }
  if (response.status == 204) return undefined as T;
  const answer = await response.json().catch(() => null);
  const wait = Number(response.headers.get("Retry-After"));
  if (response.status == 429 && wait > 0 && wait <= 2 && again < againMost) {
    await pause(wait * 1000, ask.signal);
    return call(method, path, ask, again + 1);
  }
  if (!response.ok) {
    const p = answer as Problem | null;
    throw new Refused(response.status, p?.code ?? "unknown", p?.detail ?? `The service answered ${response.status}.`, p?.hint ?? "", p?.faults);
  }
  return answer as T;
}

const pause = (ms: number, signal?: AbortSignal) =>
  new Promise<void>((resolve, reject) => {
    const stop = () => {
      clearTimeout(timer);
      reject(signal!.reason);
    };
    const timer = setTimeout(() => {
      signal?.removeEventListener("abort", stop);
      resolve();
    }, ms);
    signal?.addEventListener("abort", stop, { once: true });
  });

const pocket = (key: string, rest = "") => `/pockets/${encodeURIComponent(key)}${rest}`;
const customer = (id: string, rest = "") => `/customers/${encodeURIComponent(id)}${rest}`;
const widgetDraft = (name: string, rest = "") => `/widgets/${encodeURIComponent(name)}/draft${rest}`;
const releases = (name: string, rest = "") => `/widgets/${encodeURIComponent(name)}/releases${rest}`;
const dryRuns = (name: string, rest = "") => `/widgets/${encodeURIComponent(name)}/dry-runs${rest}`;
const host = (name: string, rest = "") => `/hosts/${encodeURIComponent(name)}${rest}`;
const asset = (customer: string, digest: string) => `/customers/${encodeURIComponent(customer)}/assets/${encodeURIComponent(digest)}`;

export const api = {
  signIn: (name: string, password: string) => call<Session>("POST", "/session", { body: { name, password } }),
  whoAmI: () => call<Session>("GET", "/session"),
  signOut: () => call<void>("DELETE", "/session"),
  customer: (id: string) => call<Customer>("GET", customer(id)),
  changeCustomer: (id: string, match: number, change: ChangeCustomer) => call<Customer>("PATCH", customer(id), { body: change, match }),
  makeCustomer: (name: string) => call<Customer>("POST", "/customers", { body: { name } }),
  brand: (id: string) => call<Brand>("GET", customer(id, "/brand")),
  changeBrand: (id: string, match: number, values: BrandValue[]) => call<Brand>("PUT", customer(id, "/brand"), { body: { values }, match }),
  dryRunBrand: (id: string, values: BrandValue[], cursor = "") => call<Restyled>("POST", customer(id, `/brand/dry-runs?limit=50${cursor ? `&cursor=${encodeURIComponent(cursor)}` : ""}`), { body: { values } }),
  people: (id: string) => call<People>("GET", customer(id, "/people")),
  revokeAccess: (id: string, name: string) => call<void>("DELETE", customer(id, `/people/${encodeURIComponent(name)}`)),
  invite: (id: string, role: string, name: string) => call<Invitation>("POST", customer(id, "/invitations"), { body: { role, name } }),
  revokeInvitation: (id: string, number: number) => call<void>("DELETE", customer(id, `/invitations/${number}`)),
  invited: (secret: string) => call<Invited>("POST", "/invitations", { body: { secret } }),
  join: (secret: string, name: string, password: string) => call<Session>("POST", "/invitations/uses", { body: { secret, name, password } }),
  gallery: () => call<Gallery>("GET", "/gallery"),
  galleryPreviews: (name: string, of = "") => call<GalleryPreviews>("GET", `/gallery/${encodeURIComponent(name)}${of ? `?customer=${encodeURIComponent(of)}` : ""}`),
  startGuestPocket: (widget: string, starter: string) => call<GuestPocket>("POST", "/guest-pockets", { body: { widget, starter } }),
  resumeGuestPocket: (secret: string) => call<GuestPocket>("POST", "/guest-pockets/visits", { body: { secret } }),
  signUp: (name: string, password: string) => call<Session>("POST", "/guest-pockets/accounts", { body: { name, password } }),
  claim: (secret: string, of = "") => call<Pocket>("POST", "/guest-pockets/claims", { body: { secret, customer: of } }),
  makePocket: (of: string, widget: string, starter: string) => call<Pocket>("POST", "/pockets", { body: { customer: of, widget, starter } }),
  duplicatePocket: (key: string) => call<Pocket>("POST", pocket(key, "/duplicates"), { body: {} }),
  deletePocket: (key: string) => call<void>("DELETE", pocket(key)),
  exportPocket: (key: string, whole: boolean) => call<PocketFile>("GET", pocket(key, `/file${whole ? "?assets=whole" : ""}`)),
  startJob: (job: NewJob) => call<Job>("POST", "/jobs", { body: job }),
  jobs: () => call<Jobs>("GET", "/jobs"),
  job: (id: string) => call<Job>("GET", `/jobs/${encodeURIComponent(id)}`),
  cancelJob: (id: string) => call<void>("DELETE", `/jobs/${encodeURIComponent(id)}`),
  customers: (search = "", cursor = "") => call<Customers>("GET", `/customers?${new URLSearchParams({ limit: "200", ...(search ? { search } : {}), ...(cursor ? { cursor } : {}) })}`),
  pockets: (list: Record<string, string>, cursor = "") => call<Pockets>("GET", `/pockets?${new URLSearchParams({ limit: "50", ...list, ...(cursor ? { cursor } : {}) })}`),
  pocket: (key: string) => call<Pocket>("GET", pocket(key)),
  // In the pocket's release.
  widget: (name: string, key: string) => call<Widget>("GET", `/widgets/${encodeURIComponent(name)}?pocket=${encodeURIComponent(key)}`),
  draft: (key: string) => call<Draft>("GET", pocket(key, "/draft")),
  changeDraft: (key: string, match: number, change: Record<string, unknown>) =>
    call<Draft>("PATCH", pocket(key, "/draft"), { body: change, kind: "application/merge-patch+json", match }),
  changePocket: (key: string, match: number, change: ChangePocket) => call<Draft>("PATCH", pocket(key), { body: change, match }),
  preview: (key: string, preview: Partial<Preview>, signal?: AbortSignal) => call<Previewed>("POST", pocket(key, "/preview"), { body: preview, signal }),
  previewCases: (key: string) => call<PreviewCases>("GET", pocket(key, "/cases")),
  savePreviewCase: (key: string, name: string, which: Conditions) => call<PreviewCase>("PUT", pocket(key, `/cases/${encodeURIComponent(name)}`), { body: which }),
  deletePreviewCase: (key: string, name: string) => call<void>("DELETE", pocket(key, `/cases/${encodeURIComponent(name)}`)),
  starterDifferences: (key: string, starter: string, replace: string[]) => call<StarterDifferences>("GET", pocket(key, `/starters/${encodeURIComponent(starter)}${replace.length ? `?replace=${replace.join()}` : ""}`)),
  pocketDifferences: (key: string, from = 0, to = 0) => call<PocketDifferences>("GET", pocket(key, `/differences?${from ? `from=${from}&` : ""}${to ? `to=${to}` : ""}`)),
  unpublish: (key: string, after = 0) => call<Publication>("DELETE", pocket(key, `/publication${after ? `?after=${after}` : ""}`)),
  schedules: (key: string) => call<Schedules>("GET", pocket(key, "/schedules?limit=200")),
  schedule: (key: string, schedule: NewSchedule) => call<Schedules>("POST", pocket(key, "/schedules"), { body: schedule }),
  cancelSchedule: (key: string, id: number) => call<void>("DELETE", pocket(key, `/schedules/${id}`)),
  tasks: (state: string, cursor = "") => call<Tasks>("GET", `/tasks?${new URLSearchParams({ ...(state && { state }), ...(cursor && { cursor }) })}`),
  runTask: (id: number) => call<Task>("POST", `/tasks/${id}/runs`),
  cancelTask: (id: number) => call<void>("DELETE", `/tasks/${id}`),
  audit: (which: Record<string, string>, cursor = "") => call<Audit>("GET", `/audit?${new URLSearchParams({ ...which, limit: "50", ...(cursor && { cursor }) })}`),
  publish: (key: string, revision: number, heights: Height[], follow: boolean) => call<Publication>("POST", pocket(key, "/publications"), { body: { revision, heights, follow } }),
  publications: (key: string, cursor = "") => call<Publications>("GET", pocket(key, `/publications?limit=20${cursor ? `&cursor=${encodeURIComponent(cursor)}` : ""}`)),
  restore: (key: string, number: number, after = 0) => call<Publication>("POST", pocket(key, "/restorations"), { body: { number, ...(after ? { after } : {}) } }),
  async assets(customer: string): Promise<Asset[]> {
    const all: Asset[] = [];
    for (let cursor = ""; ; ) {
      const page = await call<Assets>("GET", `/customers/${encodeURIComponent(customer)}/assets?limit=200${cursor ? `&cursor=${encodeURIComponent(cursor)}` : ""}`);
      all.push(...page.assets);
      if (!page.next) return all;
      cursor = page.next;
    }
  },
  asset: (customer: string, digest: string) => call<Asset>("GET", asset(customer, digest)),
  deleteAsset: (customer: string, digest: string) => call<void>("DELETE", asset(customer, digest)),
  upload: (customer: string, name: string, bytes: string) => call<Asset>("POST", `/customers/${encodeURIComponent(customer)}/assets`, { body: { name, bytes } }),
  widgets: () => call<Widgets>("GET", "/widgets"),
  importPage: (page: Page) => call<ImportedPage>("POST", "/pages", { body: page }),
  widgetDrafts: () => call<WidgetDrafts>("GET", "/drafts?limit=200"),
  startWidgetDraft: (name: string, begin: NewWidgetDraft) => call<WidgetDraft>("POST", widgetDraft(name), { body: begin }),
  widgetDraft: (name: string) => call<WidgetDraft>("GET", widgetDraft(name)),
  // With keepalive, the request finishes after the page is closed. Browsers allow that for small
  // bodies.
  changeWidgetDraft: (name: string, files: DraftFile[], keepalive = false) => call<WidgetDraft>("PATCH", widgetDraft(name), { body: { files }, keepalive }),
  watchWidgetDraft: (name: string) => new EventSource(`/api/v1${widgetDraft(name, "/changes")}`),
  packWidgetDraft: (name: string) => call<Packed>("GET", widgetDraft(name, "/zip")),
  deleteWidgetDraft: (name: string) => call<void>("DELETE", widgetDraft(name)),
  checkWidgetDraft: (name: string, files: DraftFile[], signal?: AbortSignal) => call<Checked>("POST", widgetDraft(name, "/checks"), { body: { files }, signal }),
  previewWidgetDraft: (name: string, files: DraftFile[], cases: Case[], signal?: AbortSignal) => call<PreviewedWidget>("POST", widgetDraft(name, "/previews"), { body: { files, cases }, signal }),
  draftDifferences: (name: string) => call<Differences>("GET", widgetDraft(name, "/differences")),
  origin: (name: string) => call<Origin>("GET", widgetDraft(name, "/origin")),
  releases: (name: string) => call<Releases>("GET", releases(name, "?limit=50")),
  releaseFiles: (name: string, number: number) => call<ReleaseFolder>("GET", releases(name, `/${number}/files`)),
  previewRelease: (name: string, number: number, cases: Case[]) => call<PreviewedWidget>("POST", releases(name, `/${number}/previews`), { body: { cases } }),
  release: (name: string, release: NewRelease) => call<Release>("POST", releases(name), { body: release }),
  shareRelease: (name: string, number: number, share: number) => call<Release>("PATCH", releases(name, `/${number}`), { body: { share } }),
  releaseUses: (name: string, number: number) => call<ReleaseUses>("GET", releases(name, `/${number}/uses`)),
  withdrawRelease: (name: string, number: number, withdrawn: boolean) => call<Release>("PATCH", releases(name, `/${number}`), { body: { withdrawn } }),
  startDryRun: (name: string) => call<DryRun>("POST", dryRuns(name), { body: { draft: true } }),
  dryRun: (name: string, id: string, cursor = "") => call<DryRun>("GET", dryRuns(name, `/${id}${cursor ? `?cursor=${cursor}` : ""}`)),
  cancelDryRun: (name: string, id: string) => call<void>("DELETE", dryRuns(name, `/${id}`)),
  beforeAndAfter: (name: string, id: string, key: string) => call<BeforeAndAfter>("GET", dryRuns(name, `/${id}/pockets/${encodeURIComponent(key)}`)),
  snippets: (key: string, delivery: string) => call<Snippets>("GET", pocket(key, `/snippets?delivery=${delivery}`)),
  hosts: () => call<Hosts>("GET", "/hosts"),
  host: (name: string) => call<HostProfile>("GET", host(name)),
  saveHost: (name: string, save: SaveHost) => call<HostProfile>("PUT", host(name), { body: save }),
  deleteHost: (name: string) => call<void>("DELETE", host(name)),
  saveHostImage: (name: string, file: string, bytes: string) => call<void>("PUT", host(name, `/images/${encodeURIComponent(file)}`), { body: { bytes } }),
  deleteHostImage: (name: string, file: string) => call<void>("DELETE", host(name, `/images/${encodeURIComponent(file)}`)),
  places: (id: string) => call<Places>("GET", customer(id, "/places")),
  rememberPlace: (id: string, address: string, host: string, where: string) => call<UsedPlace>("POST", customer(id, "/places"), { body: { address, host, where } }),
  guide: (key: string, install: Partial<Install>, signal?: AbortSignal) => call<Guided>("POST", pocket(key, "/guides"), { body: install, signal }),
  tryOn: (key: string, ask: Partial<TryOn>, signal?: AbortSignal) => call<TriedOn>("POST", pocket(key, "/tries"), { body: ask, signal }),
  seal: (key: string) => call<Sealed>("POST", pocket(key, "/sealed")),
  handovers: (key: string) => call<Handovers>("GET", pocket(key, "/handovers")),
  handOver: (key: string, install: Partial<Install>, note: string) => call<Handover>("POST", pocket(key, "/handovers"), { body: { install, note } }),
  revokeHandover: (key: string, id: number) => call<void>("DELETE", pocket(key, `/handovers/${id}`)),
  handedOver: (secret: string) => call<HandedOver>("POST", "/handovers", { body: { secret } }),
};

// Requests from the public listener what visitors receive now, bypassing this browser's cache, and
// so updates that cache.
export async function served(base: string, key: string): Promise<number> {
  await fetch(`${base}/s/${key}.js`, { cache: "reload" });
  const response = await fetch(`${base}/s/${key}.json`, { cache: "reload" });
  return response.ok ? ((await response.json()) as Payload).publication : 0;
}
