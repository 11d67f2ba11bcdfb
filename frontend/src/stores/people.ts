// Who works here, and who did what.
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { ask, client } from '../api/client'
import type { AccountView, AuditAsked, AuditPage, Role, RoleView } from '../api/types'

export const usePeople = defineStore('people', () => {
  const accounts = shallowRef<AccountView[] | null>(null)
  const roles = shallowRef<RoleView[]>([])

  async function load() {
    const found = await ask(client.GET('/api/accounts'))
    accounts.value = found.accounts
    roles.value = found.roles
  }

  async function add(body: { name: string; role: Role; passphrase: string }) {
    await ask(client.POST('/api/accounts', { body }))
    await load()
  }

  async function change(id: number, body: { role?: Role; passphrase?: string; ended?: boolean }) {
    try {
      await ask(client.PATCH('/api/accounts/{account_id}', { params: { path: { account_id: id } }, body }))
    } finally {
      await load()
    }
  }

  /** A page of who did what, newest first. */
  const audit = ({ visit, account, before }: AuditAsked): Promise<AuditPage> =>
    ask(client.GET('/api/audit', { params: { query: { ...(visit ? { visit } : {}), ...(account ? { account } : {}), ...(before ? { before } : {}) } } }))

  return { accounts, roles, load, add, change, audit }
})
