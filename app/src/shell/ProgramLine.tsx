// Lines at the top about the program itself: a newer one that waits to be taken, and a connection that gives less.
import { useState, useSyncExternalStore } from 'react'
import { Link } from 'react-router'
import { missingHere, onProgram, programNow, takeProgram } from '../data/program.ts'
import { Button } from '../design/primitives.tsx'
import { TopLine } from './TopLine.tsx'

export function ProgramLine() {
  const program = useSyncExternalStore(onProgram, programNow)
  const [later, setLater] = useState(false)
  const missing = window.isSecureContext && !program.unkept ? [] : missingHere(program)
  return (
    <>
      {(program.waiting || program.behind) && !later && (
        <TopLine role="status">
          <span>
            <strong>{program.behind ? 'Another window took a newer version.' : 'A newer version is ready.'}</strong>{' '}
            <i>Your record stays as it is. Finish what you are typing first.</i>
          </span>
          <span>
            <Button look="bare" onPress={takeProgram}>
              <span>{program.behind ? 'Load it here' : 'Take it now'}</span>
            </Button>{' '}
            <Button look="bare" onPress={() => setLater(true)}>
              <span>Later</span>
            </Button>
          </span>
        </TopLine>
      )}
      {missing.length > 0 && (
        <TopLine>
          <span>
            <strong>This connection gives less.</strong> <i>{missing[0]}</i>
          </span>
          <Link to="/settings#missing" style={{ minHeight: 36, display: 'flex', alignItems: 'center' }}>
            What is missing here
          </Link>
        </TopLine>
      )}
    </>
  )
}
