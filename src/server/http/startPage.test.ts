import { START_STAGES, startPage, startState } from './startPage'

describe('the page of a server that starts', () => {
  it('marks what is done, what goes on and what comes', () => {
    const page = startPage('database', 3.4)
    expect(page).toContain('data-stage="folder" class="done"')
    expect(page).toContain('data-stage="database" class="now"')
    expect(page).toContain('data-stage="screens" class="later"')
    expect(page).toContain('<span id="seconds">3</span>')
    expect(page).toContain('http-equiv="refresh"')
  })
  it('loads nothing from anywhere', () => expect(startPage('folder', 0)).not.toMatch(/(src|href)="(?!data:)/))
  it.each(Object.keys(START_STAGES) as (keyof typeof START_STAGES)[])('answers its own questions at %s', (stage) =>
    expect(startState(stage, 1.6)).toEqual({ stage, words: START_STAGES[stage], seconds: 2 }),
  )
})
