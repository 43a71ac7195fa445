// Colours with a contrast of at least 4.5:1 with their background, in light and dark mode.
export const css = `
:host { all: initial !important; position: fixed !important; inset: 16px 16px auto auto !important; z-index: 2147483647 !important; display: block !important; color-scheme: light dark !important; }
section { box-sizing: border-box; width: min(440px, calc(100vw - 32px)); max-height: calc(100vh - 32px); overflow: auto; border: 1px solid #c9d4d2; border-radius: 12px; background: #fbfdfc; box-shadow: 0 12px 40px rgb(15 35 50 / 22%); color: #17233a; font: 14px/1.5 system-ui, sans-serif; }
section:focus { outline: none; }
header { position: sticky; top: 0; display: flex; align-items: center; gap: 8px; padding: 12px 12px 12px 18px; border-bottom: 1px solid #dfe7e5; background: inherit; }
h2 { flex: 1; margin: 0; font-size: 15px; font-weight: 650; }
button { padding: 5px 11px; border: 1px solid #b9c6c4; border-radius: 7px; background: none; color: inherit; font: inherit; font-size: 13px; cursor: pointer; }
button:hover { border-color: #0b6b63; color: #0b6b63; }
button:focus-visible { outline: 2px solid #0b6b63; outline-offset: 2px; }
.list { padding: 4px 18px 12px; }
article { padding: 14px 0; border-bottom: 1px solid #e6eceb; }
h3 { display: flex; align-items: center; gap: 8px; margin: 0; font: 600 13px/1.5 ui-monospace, monospace; }
h3::before { width: 9px; height: 9px; border-radius: 50%; background: #0b6b63; content: ""; }
[data-state="hidden"] h3::before { border-radius: 0; background: #84490a; }
[data-state="missing"] h3::before { background: #a3212b; clip-path: polygon(50% 0, 100% 100%, 0 100%); }
.says { margin: 4px 0 8px; }
dl { display: grid; grid-template-columns: max-content 1fr; gap: 2px 14px; margin: 0; font-size: 13px; font-variant-numeric: tabular-nums; }
dt { color: #556474; }
dd { margin: 0; overflow-wrap: anywhere; }
.foot { margin: 12px 0 4px; color: #556474; font-size: 12px; overflow-wrap: anywhere; }
@media (prefers-color-scheme: dark) {
  section { border-color: #33465a; background: #121c2b; color: #e4ecea; }
  header, article { border-color: #26374a; }
  button { border-color: #46586b; }
  button:hover { border-color: #62cdbf; color: #62cdbf; }
  button:focus-visible { outline-color: #62cdbf; }
  dt, .foot { color: #9db0bd; }
  h3::before { background: #3fbfae; }
  [data-state="hidden"] h3::before { background: #e79a2b; }
  [data-state="missing"] h3::before { background: #ff9a9a; }
}
`;
