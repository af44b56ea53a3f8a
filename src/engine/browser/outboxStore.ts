import { openDB, type DBSchema } from 'idb'
import { contactSchema, type Contact } from '@/core/log'
import type { OutboxStore } from '../station/outbox'

interface Schema extends DBSchema {
  contacts: { key: string; value: Contact }
}

/** Contacts waiting for the server, kept in the browser's own database. */
export function openOutboxStore(): OutboxStore {
  const database = openDB<Schema>('zeptik-outbox', 1, {
    upgrade: (db) => void db.createObjectStore('contacts', { keyPath: 'id' }),
  })
  return {
    async put(contact) {
      // Strict: the promise holds only when the browser has written it out.
      const tx = (await database).transaction('contacts', 'readwrite', { durability: 'strict' })
      await tx.store.put(contact)
      await tx.done
    },
    async all() {
      const rows = await (await database).getAll('contacts')
      return rows.filter((row) => contactSchema.safeParse(row).success)
    },
    async remove(ids) {
      const tx = (await database).transaction('contacts', 'readwrite')
      await Promise.all(ids.map((id) => tx.store.delete(id)))
      await tx.done
    },
  }
}
