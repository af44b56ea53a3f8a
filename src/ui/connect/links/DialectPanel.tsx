'use client'
import { useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { BUILT_IN_DIALECTS, catDialectSchema, dryRun, type CatDialect } from '@/core/links/cat'
import { useMessages } from '../../parts/Messages'
import { panelStyles } from '../../parts/Panel'
import { fetchDialects, removeDialect, storeDialect } from './linkApi'
import styles from './links.module.css'

export const useOwnDialects = () => useQuery({ queryKey: ['links', 'dialects'], queryFn: fetchDialects, staleTime: Infinity, retry: 1 })

const LONGEST_TEXT = 50_000

function read(text: string): { dialect: CatDialect } | { problem: string } | undefined {
  if (text.trim() === '') return undefined
  if (text.length > LONGEST_TEXT) return { problem: `A command set has at most ${LONGEST_TEXT / 1000} kB.` }
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch (error) {
    return { problem: `This is not JSON: ${(error as Error).message}` }
  }
  const parsed = catDialectSchema.safeParse(raw)
  if (parsed.success) return { dialect: parsed.data }
  const { path, message } = parsed.error.issues[0]!
  return { problem: `${path.join('.') || 'the whole'}: ${message}.` }
}

/** Dialects of the operator's own, as JSON, tried dry: the bytes are shown before any goes out. */
export function DialectPanel({ onUse }: { onUse: (id: string) => void }) {
  const own = useOwnDialects()
  const client = useQueryClient()
  const { tell } = useMessages()
  const [text, setText] = useState('')
  const took = (dialects: CatDialect[]) => client.setQueryData(['links', 'dialects'], dialects)
  const store = useMutation({ mutationFn: storeDialect, onSuccess: took })
  const remove = useMutation({ mutationFn: removeDialect, onSuccess: took })
  const result = read(text)
  const dialect = result && 'dialect' in result ? result.dialect : undefined
  const begin = (from: CatDialect) => {
    store.reset()
    setText(JSON.stringify({ ...from, id: from.id.startsWith('my-') ? from.id : `my-${from.id}`, name: `${from.name}, changed` }, null, 2))
  }
  const problem = (result && 'problem' in result ? result.problem : undefined) ?? store.error?.message ?? remove.error?.message
  return (
    <details style={{ marginTop: 12 }}>
      <summary>Another command set, written as JSON</summary>
      <div className={panelStyles.row} style={{ margin: '10px 0' }}>
        <span className="muted">Begin with</span>
        {BUILT_IN_DIALECTS.map((d) => (
          <Button key={d.id} variant="outlined" size="small" onClick={() => begin(d)}>
            {d.id}
          </Button>
        ))}
      </div>
      {(own.data ?? []).map((d) => (
        <div key={d.id} className={panelStyles.row}>
          <strong>{d.name}</strong> <span className="mono">{d.id}</span>
          <Button variant="outlined" onClick={() => onUse(d.id)}>
            Choose it
          </Button>
          <Button variant="text" onClick={() => setText(JSON.stringify(d, null, 2))} aria-label={`Open ${d.name}`}>
            Open
          </Button>
          <Button
            variant="text"
            onClick={() =>
              remove.mutate(d.id, {
                onSuccess: () =>
                  tell({
                    kind: 'undo',
                    text: `Removed: the command set ${d.name}.`,
                    action: { label: 'Undo', run: () => storeDialect(d).then(took) },
                  }),
              })
            }
            aria-label={`Remove ${d.name}`}
          >
            Remove
          </Button>
        </div>
      ))}
      <TextField
        multiline
        fullWidth
        minRows={4}
        maxRows={18}
        label="Command set as JSON"
        value={text}
        onChange={(e) => {
          store.reset()
          setText(e.target.value)
        }}
        slotProps={{ htmlInput: { spellCheck: false, className: 'mono' } }}
      />
      {problem && (
        <p role="alert" className={panelStyles.problem} style={{ marginTop: 8 }}>
          {problem}
        </p>
      )}
      {dialect && (
        <>
          <h3 style={{ margin: '12px 0 4px' }}>Dry run: nothing is sent</h3>
          <table className={styles.wire} aria-label="Dry run">
            <tbody>
              {dryRun(dialect).map(({ command, sends, expects }) => (
                <tr key={command}>
                  <th scope="row" style={{ textAlign: 'left', paddingRight: 14 }}>
                    {command}
                  </th>
                  <td className={styles.mono}>{sends}</td>
                  <td className={styles.mono}>{expects === null ? <span className="muted">no answer</span> : expects}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Button variant="contained" sx={{ marginTop: 1 }} disabled={store.isPending} onClick={() => store.mutate(dialect)}>
            Keep this command set
          </Button>
          {store.isSuccess && <span role="status"> Kept. Choose it in the list of command sets.</span>}
        </>
      )}
    </details>
  )
}
