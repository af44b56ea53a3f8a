'use client'
import { Page } from '../../parts/Panel'
import { ConnectTabs } from '../ConnectTabs'
import { LinkPanels } from './LinkPanels'
import { TunePanel } from './TunePanel'

/** The radio's control line, what keys it, and the carrier for its tuner. */
export function RadioControlScreen() {
  return (
    <Page title="Radio control" lead="What reads the dial and keys the radio. Without it everything works by hand and VOX.">
      <ConnectTabs />
      <LinkPanels of="control" />
      <TunePanel />
    </Page>
  )
}

/** The TNC, which makes and hears packet. */
export function TncScreen() {
  return (
    <Page title="TNC" lead="A modem of its own between radio and this station, for packet.">
      <ConnectTabs />
      <LinkPanels of="tnc" />
    </Page>
  )
}
