import { useEffect } from 'react'
import { Beam } from './parts/Beam'
import { EncodingDialog } from './parts/EncodingDialog'
import { CarrySheet } from './parts/CarrySheet'
import { Desk } from './parts/Desk'
import { GrainCards } from './parts/GrainCards'
import { DropZone } from './parts/DropZone'
import { Header } from './parts/Header'
import { useKeys } from './parts/keys'
import { Message } from './parts/Message'
import { PictureView } from './parts/PictureView'
import { ReelsPage } from './parts/ReelsPage'
import { ReelColumn } from './parts/ReelColumn'
import { ScopeDock } from './parts/ScopeDock'
import { Transport } from './parts/Transport'
import { begin } from './state/begin'
import { grain } from './state/grain'
import { scopes } from './state/scopes'
import { studio, useStudio } from './state/studio'

let begun = false

export function App() {
  const alone = useStudio((s) => s.alone)
  const cards = grain.use((s) => s.open)
  useEffect(() => {
    if (begun) return
    begun = true
    studio.set({ density: window.devicePixelRatio })
    void begin()
  }, [])
  useKeys()
  if (alone) return <PictureView />
  return (
    <div className="grid h-full grid-cols-[112px_minmax(0,1fr)_320px] grid-rows-[38px_auto_minmax(0,1fr)_32px] bg-room">
      <div className="col-span-3">
        <Header />
      </div>
      <div className="col-span-3">
        <Beam />
      </div>
      <div className="row-span-2 min-h-0">
        <ReelColumn />
      </div>
      <Centre />
      <div className="min-h-0">{cards ? <GrainCards /> : <Desk />}</div>
      <div className="col-span-2">
        <Transport />
      </div>
      <Message />
      <EncodingDialog />
      <ReelsPage />
      <CarrySheet />
      <DropZone />
    </div>
  )
}

/** The picture, with the scopes on whichever side they were put. */
function Centre() {
  const { open, place } = scopes.use((s) => s.dock)
  const flow = { below: 'flex-col', above: 'flex-col-reverse', right: 'flex-row', left: 'flex-row-reverse' }[place]
  return (
    <div className={`flex min-h-0 min-w-0 ${open ? flow : 'flex-col'}`}>
      <div className="min-h-0 min-w-0 grow">
        <PictureView />
      </div>
      {open && <ScopeDock />}
    </div>
  )
}
