// Protocols that can be started: the library, and the keeper's own ones that have no fault.
import { protocolLibrary, type Protocol, type ProtocolDocument } from '@brinvo/core'
import { checkProtocolText, type ProtocolCheck } from '@brinvo/core/file'
import { useMemo } from 'react'
import { useRecord } from './queries.tsx'

export interface OwnProtocol {
  readonly document: ProtocolDocument
  readonly check: ProtocolCheck
}

/** The library and the keeper's own protocols; of those only ones without a fault are ready. */
export function useProtocols(): { readonly own: readonly OwnProtocol[]; readonly ready: readonly Protocol[] } {
  const { record } = useRecord()
  const { protocols } = record
  return useMemo(() => {
    const own = [...protocols.values()]
      .filter(({ body }) => body.retiredAt === undefined)
      .map((document) => ({ document, check: checkProtocolText(document.body.text) }))
    return { own, ready: [...protocolLibrary, ...own.flatMap(({ check }) => check.protocol ?? [])] }
  }, [protocols])
}
