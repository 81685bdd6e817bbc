/** How the pages of the ferry line look. */
export const STYLE = `
:root {
  color-scheme: light dark;
  --sea: #14506b;
  --ink: #16303c;
  --paper: #f4f8fa;
  --card: #fff;
  --line: #c9d8df;
  --go: #1f6f4a;
  --bad: #a5313f;
}
@media (prefers-color-scheme: dark) {
  :root {
    --ink: #dfeaf0;
    --paper: #10222b;
    --card: #18303c;
    --line: #32505e;
    --go: #4fae80;
    --bad: #ef8791;
  }
}
* {
  box-sizing: border-box;
}
body {
  margin: 0;
  font:
    16px/1.5 system-ui,
    "DejaVu Sans",
    sans-serif;
  color: var(--ink);
  background: var(--paper);
}
header {
  background: var(--sea);
  color: #fff;
  padding: 12px 24px;
  display: flex;
  gap: 16px;
  align-items: baseline;
}
header b {
  font-size: 18px;
}
header span {
  opacity: 0.8;
}
main {
  max-width: 860px;
  margin: 0 auto;
  padding: 16px 24px 80px;
}
h1 {
  font-size: 26px;
  margin: 12px 0 16px;
}
form.card,
section.card {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 16px 20px;
  margin: 0 0 16px;
}
label {
  display: block;
  margin: 0 0 12px;
}
label > span {
  display: block;
  font-size: 14px;
}
label.tick {
  display: flex;
  gap: 8px;
}
label.tick > span {
  font-size: 16px;
}
input:not([type="checkbox"]),
select {
  font: inherit;
  padding: 6px 10px;
  width: 100%;
  max-width: 320px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--card);
  color: inherit;
}
button,
a.button {
  font: inherit;
  padding: 8px 18px;
  border: 0;
  border-radius: 4px;
  background: var(--sea);
  color: #fff;
  text-decoration: none;
  display: inline-block;
  cursor: pointer;
}
button.go {
  background: var(--go);
}
button.plain {
  background: transparent;
  color: inherit;
  border: 1px solid var(--line);
}
table {
  width: 100%;
  border-collapse: collapse;
  background: var(--card);
}
th,
td {
  text-align: left;
  padding: 8px 10px;
  border-bottom: 1px solid var(--line);
}
[role="alert"] {
  color: var(--bad);
  font-weight: 600;
}
[role="status"] {
  color: var(--go);
  font-weight: 600;
}
dl {
  display: grid;
  grid-template-columns: 160px 1fr;
  gap: 4px 12px;
  margin: 0;
}
dd {
  margin: 0;
  font-weight: 600;
}
iframe {
  width: 100%;
  max-width: 420px;
  height: 300px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--card);
}
.over {
  position: fixed;
  inset: 0;
  background: rgb(8 24 33 / 0.6);
  display: grid;
  place-items: center;
  z-index: 20;
}
.over > div {
  background: var(--card);
  padding: 24px;
  max-width: 420px;
  border-radius: 6px;
}
footer {
  border-top: 1px solid var(--line);
  padding: 12px 24px;
  font-size: 13px;
  background: var(--paper);
}
.bar {
  display: flex;
  gap: 12px;
  margin-top: 16px;
}
@media (max-width: 600px) {
  main {
    padding: 12px 16px 120px;
  }
  header span {
    display: none;
  }
  dl {
    grid-template-columns: 110px 1fr;
  }
  h1 {
    font-size: 22px;
  }
}`

/** On narrow screens of one build the notice grew, and the bar with the buttons went under it. */
export const FOOTER_OVER_BAR = `
@media (max-width: 600px) {
  footer.shore-notice {
    position: fixed;
    bottom: 0;
    left: 0;
    right: 0;
    height: 150px;
    z-index: 5;
  }
  .bar {
    position: fixed;
    bottom: 40px;
    left: 16px;
    z-index: 1;
  }
}`
