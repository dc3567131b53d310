// One plan for the whole page: shelf, round and course read the same.
import { createContext, use, type ReactNode } from 'react'
import { usePlans, type Plans } from '../data/queries.tsx'

const PlansContext = createContext<Plans | null>(null)
export function PlansProvider({ children }: { children: ReactNode }) {
  return <PlansContext value={usePlans()}>{children}</PlansContext>
}
export function useThePlans(): Plans {
  const found = use(PlansContext)
  if (!found) throw new Error('useThePlans: outside its provider')
  return found
}
