import type { RefObject } from 'react'

interface FileInputProps {
  /** For the button that opens it. */
  inputRef: RefObject<HTMLInputElement | null>
  label: string
  /** Endings and types, as in HTML. */
  accept: string
  onFile: (file: File) => void
}

/** A picker of one file, opened by a button of the screen's own. The same file can be picked twice in a row. */
export function FileInput({ inputRef, label, accept, onFile }: FileInputProps) {
  return (
    <input
      ref={inputRef}
      type="file"
      accept={accept}
      className="visually-hidden"
      aria-label={label}
      tabIndex={-1}
      onChange={(e) => {
        const file = e.target.files?.[0]
        e.target.value = ''
        if (file) onFile(file)
      }}
    />
  )
}
