import { join } from 'node:path'
import { z } from 'zod'
import { addressBookSchema, emptyAddressBook, type AddressBook, type AddressBookView, type NetworkPlace } from '@/core/links'
import type { Database } from '../db/database'
import { createInOrder } from '../inOrder'
import { openDocument, writeDocument } from '../stationRepository'
import { SecretBox, sealedSchema, type Sealed } from './secretBox'

/** Whom a password is for: user, and host and port in each network. */
const goesTo = ({ user, places }: AddressBook['entries'][number]) =>
  JSON.stringify([
    user,
    Object.entries(places)
      .flatMap(([place, at]) => (at ? [[place, at.host, at.port]] : []))
      .sort(),
  ])

const secretsSchema = z.record(z.string(), sealedSchema)

/** The address book, and the passwords that belong to it. These leave the server only to the device they are for. */
export class NetworkServices {
  /** All passwords stand in one document. */
  private readonly inOrder = createInOrder()

  private constructor(
    private readonly database: Database,
    private readonly box: SecretBox,
    private book: AddressBook,
    private secrets: Record<string, Sealed>,
  ) {}

  static async open(database: Database, dataFolder: string): Promise<NetworkServices> {
    const book = await openDocument(database, 'addressBook', addressBookSchema, emptyAddressBook)
    const secrets = await openDocument(database, 'addressSecrets', secretsSchema, {})
    return new NetworkServices(database, new SecretBox(join(dataFolder, 'secrets.key')), book, secrets)
  }

  view(): AddressBookView {
    const ids = this.book.entries.map((entry) => entry.id).filter((id) => this.secrets[id] !== undefined)
    const unreadable = ids.filter((id) => this.box.open(id, this.secrets[id]!) === undefined)
    return { ...this.book, withPassword: ids.filter((id) => !unreadable.includes(id)), unreadable }
  }

  /**
   * Stores the book. Passwords of entries that are gone are forgotten, and of those whose user or address is another one now:
   * else whoever may change an address could have the password sent to a host of their own.
   */
  store(book: AddressBook): Promise<void> {
    return this.inOrder(async () => {
      const kept = Object.entries(this.secrets).filter(([id]) => {
        const [before, after] = [this.book, book].map(({ entries }) => entries.find((entry) => entry.id === id))
        return before !== undefined && after !== undefined && goesTo(before) === goesTo(after)
      })
      // The passwords go first: a crash in between must not leave them with the new addresses.
      if (kept.length < Object.keys(this.secrets).length) await this.storeSecrets(Object.fromEntries(kept))
      await writeDocument(this.database, 'addressBook', book)
      this.book = book
    })
  }

  /** @returns whether there is such an entry */
  setPassword(id: string, password: string | null): Promise<boolean> {
    return this.inOrder(async () => {
      if (!this.book.entries.some((entry) => entry.id === id)) return false
      const rest = Object.fromEntries(Object.entries(this.secrets).filter(([other]) => other !== id))
      await this.storeSecrets(password === null ? rest : { ...rest, [id]: this.box.seal(id, password) })
      return true
    })
  }

  /** Whether the operator has entered this address, for whatever network. */
  knows({ host, port }: NetworkPlace): boolean {
    return this.book.entries.some(({ places }) => Object.values(places).some((p) => p?.host === host && p.port === port))
  }

  /** User and password for an address of the book, when it has both. */
  loginFor(host: string, port: number): { user: string; password: string } | undefined {
    for (const { id, user, places } of this.book.entries) {
      const secret = this.secrets[id]
      if (user === '' || !secret || !Object.values(places).some((p) => p?.host === host && p.port === port)) continue
      const password = this.box.open(id, secret)
      if (password !== undefined) return { user, password }
    }
    return undefined
  }

  private async storeSecrets(secrets: Record<string, Sealed>): Promise<void> {
    await writeDocument(this.database, 'addressSecrets', secrets)
    this.secrets = secrets
  }
}
