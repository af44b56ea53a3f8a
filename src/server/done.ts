/** How something that was ordered went: done, or not, and in words why not. */
export type Done = { ok: true } | { ok: false; error: string }
