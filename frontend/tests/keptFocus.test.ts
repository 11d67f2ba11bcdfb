import { afterEach, describe, expect, it } from 'vitest'
import { effectScope, nextTick, type EffectScope } from 'vue'
import { useKeptFocus } from '../src/composables/useKeptFocus'

let scope: EffectScope
function page(html: string) {
  document.body.innerHTML = `<main id="main">${html}</main>`
  scope = effectScope()
  scope.run(() => useKeptFocus(() => document.getElementById('main')))
}
const at = (id: string) => document.getElementById(id)!
const gone = async (act: () => void) => {
  act()
  await nextTick()
  await Promise.resolve()
  return document.activeElement?.id
}
afterEach(() => scope.stop())

describe('the cursor', () => {
  it('goes to what held the thing that went away, and not out of the page', async () => {
    page('<section id="list"><p id="line"><button id="take-back">take back</button></p></section>')
    at('take-back').focus()
    expect(await gone(() => at('take-back').remove())).toBe('line')
    at('line').focus()
    expect(await gone(() => at('line').remove())).toBe('list')
  })

  it('goes to the page where all of it went away', async () => {
    page('<section id="view"><input id="reading" /></section>')
    at('reading').focus()
    expect(await gone(() => at('view').remove())).toBe('main')
  })

  it('stays away where nobody took it', async () => {
    page('<input id="reading" /><p id="other"></p>')
    at('reading').focus()
    at('reading').blur()
    expect(await gone(() => at('other').remove())).toBe('')
  })
})
