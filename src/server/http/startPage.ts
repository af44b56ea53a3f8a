/** What goes on while the server starts, in the order of it. */
export const START_STAGES = {
  folder: 'Looking into the data folder.',
  database: 'Opening the log. After a power cut or a kill it is checked first, which takes some seconds.',
  screens: 'Preparing the screens.',
} as const
export type StartStage = keyof typeof START_STAGES

/** Where the page asks how far the start is; gone once the server is ready. */
export const STARTING_PATH = '/starting'
const ASK_EVERY_MS = 700

/** How far the start is, for the page's own questions. */
export const startState = (stage: StartStage, seconds: number) => ({ stage, words: START_STAGES[stage], seconds: Math.round(seconds) })

/**
 * The page that a browser gets while the server starts: it shows what goes on and gives way to the real one by itself, also
 * without scripts. It stands alone, for nothing else can be served yet.
 */
export function startPage(stage: StartStage, seconds: number): string {
  const names = Object.keys(START_STAGES) as StartStage[]
  const steps = names.map((name) => {
    const state = names.indexOf(name) < names.indexOf(stage) ? 'done' : name === stage ? 'now' : 'later'
    return `<li data-stage="${name}" class="${state}">${START_STAGES[name]}</li>`
  })
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<noscript><meta http-equiv="refresh" content="2"></noscript>
<title>Zeptik is starting</title>
<link rel="icon" href="data:,">
<style>
:root { color-scheme: light dark; --paper: #f3ecdc; --ink: #27231b; --muted: #5d5545; --line: #cdc1a5; --now: #0b615c }
@media (prefers-color-scheme: dark) { :root { --paper: #120907; --ink: #e39a80; --muted: #b87a66; --line: #4a2a20; --now: #5f9d96 } }
body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: var(--paper); color: var(--ink); font: 20px/1.5 system-ui, sans-serif }
main { max-width: 34rem; padding: 2rem }
h1 { font-size: 1.7rem; margin: 0 0 1rem }
ol { list-style: none; margin: 0; padding: 0 }
li { padding: .5rem 0 .5rem 2.2rem; border-top: 1px solid var(--line); position: relative; color: var(--muted) }
li::before { position: absolute; left: .3rem; content: "\\25CB" }
li.done::before { content: "\\2713" }
li.now { color: var(--ink); font-weight: 700 }
li.now::before { content: "\\25B6"; color: var(--now) }
p { color: var(--muted); font-size: 1rem; margin: 1rem 0 0 }
#now:not(.alone) { position: absolute; clip-path: inset(50%); height: 1px; width: 1px; overflow: hidden }
</style>
</head>
<body>
<main>
<h1>Zeptik is starting</h1>
<ol aria-label="What goes on">${steps.join('')}</ol>
<p id="now" role="status">${START_STAGES[stage]}</p>
<p>Begun <span id="seconds">${Math.round(seconds)}</span> s ago. This page gives way to the station by itself.</p>
</main>
<script>
const now = document.getElementById('now')
const order = ${JSON.stringify(names)}
async function look() {
  try {
    const answer = await fetch('${STARTING_PATH}', { cache: 'no-store' })
    const state = answer.status === 503 ? await answer.json() : undefined
    if (!state) return location.reload()
    now.className = ''
    if (now.textContent !== state.words) now.textContent = state.words
    document.getElementById('seconds').textContent = state.seconds
    for (const step of document.querySelectorAll('li')) {
      const place = order.indexOf(step.dataset.stage) - order.indexOf(state.stage)
      step.className = place < 0 ? 'done' : place === 0 ? 'now' : 'later'
    }
  } catch {
    now.className = 'alone'
    now.textContent = 'The server does not answer: it may have been stopped. Its terminal says more.'
  }
  setTimeout(look, ${ASK_EVERY_MS})
}
setTimeout(look, ${ASK_EVERY_MS})
</script>
</body>
</html>
`
}
