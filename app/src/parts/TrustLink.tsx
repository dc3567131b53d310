// From a number that is believed to where it was held against the truth.
import { Link } from 'react-router'

export type TrustPart = 'level' | 'use' | 'dark' | 'over' | 'diagnosis'
export function TrustLink({ part }: { part: TrustPart }) {
  return (
    <Link to={`/trust#${part}`} style={{ display: 'inline-flex', alignItems: 'center', minHeight: 44 }}>
      How far it can be trusted
    </Link>
  )
}
