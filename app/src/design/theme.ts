// Tokens as custom properties: a theme is an attribute on the page, so switching draws nothing anew.
import { createGlobalStyle } from 'styled-components'

export const GlobalStyle = createGlobalStyle`
:root {
  --ground: #F1F5F2; --tray: #FFFFFF; --well: #F3F7F5; --rim: #14323A; --ink: #10262B; --quiet: #47605F; --hairline: #C8D5D2;
  --methylene: #1F5FA8; --malachite: #0B7A5B; --malachite-ink: #08624A; --gentian: #6A3D9A; --acriflavine: #E3B505; --acriflavine-ink: #5F4B00;
  --iodine: #8A4B12; --copper: #A4531F; --danger: #B3261E; --on-rim: #FFFFFF; --on-acriflavine: #10262B;
  --copper-tint: #F3E5DB; --gentian-tint: #DDD2E9; --malachite-tint: #E0EFEA; --later: #F0F3F2; --water: #DCEAE6; --paper: #FBFAF3; --grid: #D3E2D8;
  --danger-tint: #FBEBE9; --caution-tint: #FBF3D3; --focus: #1F5FA8; --shade: rgb(16 38 43 / 45%);
  color-scheme: light;
}
[data-theme='lights-out'] {
  --ground: #0B0907; --tray: #14100C; --well: #1C1610; --rim: #E8B06A; --ink: #F0C083; --quiet: #BC8D55; --hairline: #3D2F20;
  --methylene: #D9A15E; --malachite: #CFA05A; --malachite-ink: #E3B878; --gentian: #F0B468; --acriflavine: #FFC46B; --acriflavine-ink: #FFC46B;
  --iodine: #B98043; --copper: #E39A55; --danger: #FF8A5C; --on-rim: #140D05; --on-acriflavine: #140D05;
  --copper-tint: #2B1D11; --gentian-tint: #3A2A17; --malachite-tint: #241B10; --later: #110D09; --water: #2A2013; --paper: #0D0A06; --grid: #2A2114;
  --danger-tint: #331609; --caution-tint: #2E2110; --focus: #FFC46B; --shade: rgb(0 0 0 / 70%);
  color-scheme: dark;
}
*, *::before, *::after { box-sizing: border-box; }
html { -webkit-text-size-adjust: 100%; }
#place { overflow-x: clip; }
body {
  margin: 0; background: var(--ground); color: var(--ink);
  font: 15px/1.45 'Atkinson Hyperlegible Next Variable', system-ui, sans-serif;
  font-variant-numeric: tabular-nums;
}
h1, h2, h3, h4, p, ul, ol, dl, dd, figure { margin: 0; padding: 0; }
ul, ol { list-style: none; }
h1 { font-size: 28px; line-height: 1.15; font-weight: 750; letter-spacing: -0.01em; }
h2 { font-size: 21px; line-height: 1.2; font-weight: 700; }
h3, h2[data-small] { font-size: 17px; line-height: 1.3; font-weight: 700; }
a { color: inherit; }
button, input, select, textarea { font: inherit; color: inherit; }
/* A fold shows that it is one. */
summary { list-style: none; cursor: pointer; }
summary::-webkit-details-marker { display: none; }
summary::before { content: ''; display: inline-block; flex: none; width: 8px; height: 8px; margin: 0 9px 2px 2px;
  border: solid var(--quiet); border-width: 0 2px 2px 0; transform: rotate(-45deg); }
details[open] > summary::before { transform: rotate(45deg); }
:focus-visible { outline: 3px solid var(--focus); outline-offset: 2px; border-radius: 4px; }
.mono { font-family: 'Atkinson Hyperlegible Mono Variable', ui-monospace, monospace; }
.sr { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap; }
@media (prefers-reduced-motion: reduce) { *, *::before, *::after { animation: none !important; transition: none !important; } }
@media print { header, nav, .no-print { display: none !important; } body { background: #fff; color: #000; }
  html[data-print-alone] body *:not(:has(.print-alone)):not(.print-alone):not(.print-alone *) { display: none !important; } }
`

/** Widths at which the layout changes. */
export const NARROW = '@media (max-width: 760px)'
export const MIDDLE = '@media (max-width: 1080px)'
