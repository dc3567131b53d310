import { mayLeaveOut, type Step } from '@brinvo/core'
import { Button } from '../design/primitives.tsx'
import { useSkip } from '../shell/LogContext.tsx'

export function SkipButton({ step }: { step: Step }) {
  const skip = useSkip()
  if (!mayLeaveOut(step)) return null
  return (
    <Button look="bare" onPress={() => skip(step)} aria-label={`Leave out: ${step.title}`}>
      Leave out
    </Button>
  )
}
