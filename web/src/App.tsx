import { useEffect } from 'react'
import { Beam } from './parts/Beam'
import { DeclareSheet } from './parts/DeclareSheet'
import { Desk } from './parts/Desk'
import { DropZone } from './parts/DropZone'
import { Header } from './parts/Header'
import { useKeys } from './parts/keys'
import { Message } from './parts/Message'
import { PictureView } from './parts/PictureView'
import { ReelColumn } from './parts/ReelColumn'
import { Transport } from './parts/Transport'
import { studio } from './state/studio'

let begun = false

export function App() {
  useEffect(() => {
    if (begun) return
    begun = true
    void studio.begin()
  }, [])
  useKeys()
  return (
    <div className="grid h-full grid-cols-[112px_minmax(0,1fr)_312px] grid-rows-[38px_auto_minmax(0,1fr)_32px] bg-room">
      <div className="col-span-3">
        <Header />
      </div>
      <div className="col-span-3">
        <Beam />
      </div>
      <div className="row-span-2 min-h-0">
        <ReelColumn />
      </div>
      <div className="min-h-0">
        <PictureView />
      </div>
      <div className="row-span-2 min-h-0">
        <Desk />
      </div>
      <Transport />
      <Message />
      <DeclareSheet />
      <DropZone />
    </div>
  )
}
