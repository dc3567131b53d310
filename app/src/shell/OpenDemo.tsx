import { useEffect } from 'react'
import { useNavigate } from 'react-router'
import { useDatabase } from '../data/queries.tsx'

/** Opens the demonstration record and goes to today's round. */
export function OpenDemo() {
  const { open } = useDatabase()
  const navigate = useNavigate()
  useEffect(() => {
    open('demo')
    void navigate('/', { replace: true })
  }, [open, navigate])
  return null
}
