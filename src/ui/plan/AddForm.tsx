import type { ReactNode } from 'react'
import Button from '@mui/material/Button'
import { panelStyles } from '../parts/Panel'

/** Fields of something to be added or changed, what is wrong with them, and the button that adds or changes it. */
export function AddForm({
  problem,
  verb,
  onAdd,
  children,
}: {
  problem: string | undefined
  verb: string
  onAdd: () => void
  children: ReactNode
}) {
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        onAdd()
      }}
      style={{ marginBottom: 12 }}
    >
      <div className={panelStyles.grid} style={{ gridTemplateColumns: 'repeat(auto-fit, minmax(190px, 1fr))' }}>
        {children}
      </div>
      {problem && (
        <p role="alert" className={panelStyles.problem}>
          {problem}
        </p>
      )}
      <Button type="submit" variant="contained" sx={{ mt: 1.5 }}>
        {verb}
      </Button>
    </form>
  )
}
