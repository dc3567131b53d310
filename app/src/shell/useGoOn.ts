import { useCallback, useEffect, useRef } from 'react'
import { useLocation, useNavigate, type NavigateOptions } from 'react-router'

/**
 * Leads on from a page once its work is written.
 *
 * Writing takes a moment. A keeper who has gone elsewhere in that moment stays where they went: what was written is
 * written, and no page calls them back.
 *
 * @returns a function that goes to a path, or back by a number of pages, as long as the page that asks is still open.
 */
export function useGoOn(): (to: string | number, options?: NavigateOptions) => void {
  const navigate = useNavigate()
  const { key } = useLocation()
  const here = useRef('')
  useEffect(() => {
    here.current = window.location.pathname
  }, [key])
  return useCallback(
    (to, options) => {
      if (window.location.pathname !== here.current) return
      if (typeof to === 'number') void navigate(to)
      else void navigate(to, options)
    },
    [navigate],
  )
}
