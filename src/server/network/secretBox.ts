import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'
import { chmodSync, existsSync, readFileSync, writeFileSync } from 'node:fs'
import { z } from 'zod'

/** A secret as it is stored. */
export const sealedSchema = z.object({ iv: z.string(), tag: z.string(), data: z.string() })
export type Sealed = z.infer<typeof sealedSchema>

const KEY_BYTES = 32
const CIPHER = 'aes-256-gcm'

/** Seals small secrets with a key that stands in a file of its own, readable by its owner alone. */
export class SecretBox {
  private key: Buffer | undefined

  /** @param path of the key file; it is made when the first secret is sealed */
  constructor(private readonly path: string) {}

  /** @param name goes into the seal: a secret cannot be moved to another name */
  seal(name: string, secret: string): Sealed {
    const iv = randomBytes(12)
    const cipher = createCipheriv(CIPHER, this.readKey() ?? this.makeKey(), iv)
    cipher.setAAD(Buffer.from(name))
    const data = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()])
    return { iv: iv.toString('base64'), tag: cipher.getAuthTag().toString('base64'), data: data.toString('base64') }
  }

  /** @returns the secret, or undefined when the key is another, is missing, or the seal is broken */
  open(name: string, sealed: Sealed): string | undefined {
    const key = this.readKey()
    if (!key) return undefined
    try {
      const decipher = createDecipheriv(CIPHER, key, Buffer.from(sealed.iv, 'base64'))
      decipher.setAAD(Buffer.from(name))
      decipher.setAuthTag(Buffer.from(sealed.tag, 'base64'))
      return Buffer.concat([decipher.update(Buffer.from(sealed.data, 'base64')), decipher.final()]).toString('utf8')
    } catch {
      return undefined
    }
  }

  private readKey(): Buffer | undefined {
    if (this.key) return this.key
    if (!existsSync(this.path)) return undefined
    try {
      const key = Buffer.from(readFileSync(this.path, 'utf8').trim(), 'hex')
      if (key.length !== KEY_BYTES) return undefined
      // Copied from elsewhere it may have become readable for others.
      chmodSync(this.path, 0o600)
      this.key = key
      return key
    } catch {
      // A file that cannot be read is as good as none: the passwords must be entered again.
      return undefined
    }
  }

  private makeKey(): Buffer {
    const key = randomBytes(KEY_BYTES)
    // A file that is there and holds no key is replaced.
    writeFileSync(this.path, key.toString('hex') + '\n', { mode: 0o600 })
    chmodSync(this.path, 0o600)
    this.key = key
    return key
  }
}
