// What modules use as soon as they are imported, for tests, which run without a browser.
import { vi } from "vitest";

vi.stubGlobal("location", new URL("http://console.example/"));
vi.stubGlobal("addEventListener", () => {});
