'use client'
import { useEffect, useState } from 'react'
import Button from '@mui/material/Button'
import { reducePortSearch, startPortSearch, type PortSearch } from '@/core/links'
import { panelStyles } from '../../parts/Panel'
import { fetchPorts } from './linkApi'

const LOOK_EVERY_MS = 1000

interface PortFinderProps {
  name: string
  onFound: (path: string) => void
}

/** Finds the right one of several ports: its device is unplugged and plugged in again. */
export function PortFinder({ name, onFound }: PortFinderProps) {
  const [search, setSearch] = useState<PortSearch>()
  const [problem, setProblem] = useState<string>()
  const step = search?.step
  useEffect(() => {
    if (step === undefined || step === 'found') return
    let ended = false
    const timer = setInterval(() => {
      fetchPorts().then(
        (ports) =>
          !ended &&
          setSearch(
            (now) =>
              now &&
              reducePortSearch(
                now,
                ports.map((p) => p.path),
              ),
          ),
        (error: Error) => !ended && setProblem(error.message),
      )
    }, LOOK_EVERY_MS)
    return () => {
      ended = true
      clearInterval(timer)
    }
  }, [step])
  const begin = () => {
    setProblem(undefined)
    fetchPorts().then(
      (ports) => setSearch(startPortSearch(ports.map((p) => p.path))),
      (error: Error) => setProblem(error.message),
    )
  }
  if (!search)
    return (
      <>
        <Button variant="text" onClick={begin} aria-label={`Which one is it? ${name}`}>
          Which one is it?
        </Button>
        {problem && <span className={panelStyles.problem}>{problem}</span>}
      </>
    )
  return (
    <div className={panelStyles.check} role="group" aria-label={`Finding the port: ${name}`}>
      <strong role="status">
        {search.step === 'unplug'
          ? 'Unplug its USB lead now.'
          : search.step === 'plugIn'
            ? `${search.gone.join(' and ')} went away. Plug the lead in again.`
            : search.found.length === 1
              ? `It is ${search.found[0]}.`
              : `It has ${search.found.length} ports: ${search.found.join(' and ')}. Usually the first is for control; the ladder tells.`}
      </strong>
      {search.step !== 'found' && (
        <span className="muted">Ports now: {search.listed.length === 0 ? 'none' : search.listed.join(', ')}.</span>
      )}
      <div className={panelStyles.row}>
        {search.found.map((path) => (
          <Button
            key={path}
            variant="contained"
            onClick={() => {
              onFound(path)
              setSearch(undefined)
            }}
          >
            Use {path}
          </Button>
        ))}
        <Button variant="text" onClick={() => setSearch(undefined)}>
          Stop looking
        </Button>
      </div>
      {problem && <span className={panelStyles.problem}>{problem}</span>}
    </div>
  )
}
