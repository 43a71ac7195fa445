import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  // dist/README is committed, so that the Go embed works before the first build.
  // Stylesheets are read by tests too.
  // A limit for tests that hang, not for slow machines.
  test: { css: true, testTimeout: 60_000, setupFiles: "src/without-browser.ts" },
  build: { target: ["chrome109", "firefox115", "safari16.4"], emptyOutDir: false, modulePreload: { polyfill: false } },
});
