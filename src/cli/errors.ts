/** The command was called wrongly: usage is shown, exit code 2. */
export class UsageError extends Error {}

/** The command could not do its work: one clear line, exit code 1. */
export class CommandError extends Error {}

/** Reads a number given on the command line. @throws {UsageError} not a number or out of range */
export function numberOption(name: string, text: string | undefined, fallback: number, range: { from: number; to: number }): number {
  if (text === undefined) return fallback
  const value = Number(text)
  if (text.trim() === '' || !Number.isFinite(value) || value < range.from || value > range.to)
    throw new UsageError(`--${name} must be a number from ${range.from} to ${range.to}, got "${text}"`)
  return value
}

/** Words for what the file system said. */
export function fileProblem(path: string, error: unknown): CommandError {
  const code = (error as NodeJS.ErrnoException).code
  const words: Record<string, string> = {
    ENOENT: 'there is no such file',
    EISDIR: 'that is a folder',
    EACCES: 'no permission to use it',
    ENOSPC: 'the disk is full',
    ENOTDIR: 'part of the path is not a folder',
  }
  return new CommandError(`${path}: ${(code && words[code]) ?? (error as Error).message}`)
}
