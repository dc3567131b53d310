import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { useNavigate } from 'react-router'
import { repositoryOf } from '../data/database.ts'
import { useDatabase } from '../data/queries.tsx'

/** Opens the demonstration record and goes to today's round; one that was emptied is made anew. */
export function OpenDemo() {
  const { open } = useDatabase()
  const client = useQueryClient()
  const navigate = useNavigate()
  useEffect(() => {
    const go = async () => {
      const repository = repositoryOf('demo')
      if ((await repository.load()).vessels.size === 0) {
        await repository.setFact('touched', 'no')
        await client.invalidateQueries({ queryKey: ['record', 'demo'] })
      }
      open('demo')
      await navigate('/', { replace: true })
    }
    // A store that cannot be opened is told by the shell.
    void go().catch(() => {
      open('demo')
      void navigate('/', { replace: true })
    })
  }, [client, open, navigate])
  return null
}
