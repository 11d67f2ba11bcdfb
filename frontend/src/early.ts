// The first thing that runs. Kept small: whatever it needs is read before it.
import { addressOf, askEarly } from './api/early'
import { kept } from './stores/shelf'

askEarly('/api/session', 'no-store')
askEarly('/api/catalogue')
const visit = /^\/visits\/(\d+)\/?$/.exec(location.pathname)
if (visit) askEarly(addressOf(Number(visit[1]), kept('icepick.units') === 'metric' ? 'metric' : 'field'), 'no-store')
