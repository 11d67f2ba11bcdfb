import { createPinia, setActivePinia } from 'pinia'
import { expect, it } from 'vitest'
import { useCatalogue } from '../src/stores/catalogue'
import { catalogue as shipped } from './fixtures'

it('writes a difference of pressures as psi, a gauge as psig', () => {
  setActivePinia(createPinia())
  const catalogue = useCatalogue()
  catalogue.catalogue = shipped
  expect([catalogue.symbol('psi'), catalogue.symbolOfDifference('psi')]).toEqual(['psig', 'psi'])
  expect(['valve.pressure_difference', 'metering.head_to_liquid'].map((check) => catalogue.symbolOf(check, 'psi'))).toEqual(['psi', 'psi'])
  expect(catalogue.symbolOf('valve.pressure_difference', 'kPa')).toBe('kPa')
  expect(catalogue.symbolOf('valve.bypass', 'delta_degF')).toBe('°F')
})
