// A field of the microscope that moves. Under reduced motion it stands still and draws the way each cell has gone.
import { useEffect, useRef } from 'react'
import { styled } from 'styled-components'
import { sheet } from './sheet.ts'
import { FIELD_UM, cellsOf, chanceOf, organismOf, swim, type Cell, type Outline } from './swim.ts'

const Field = styled.canvas`
  ${sheet}
`
const TAIL_S = 1.2

/** The outline of a cell about its middle, along its length, in µm. */
function trace(pen: CanvasRenderingContext2D, outline: Outline, { lengthUm: l, widthUm: w, spin }: Cell): void {
  const a = l / 2
  const b = w / 2
  pen.beginPath()
  switch (outline) {
    case 'round':
    case 'lens':
    case 'round-groove':
      pen.ellipse(0, 0, a, b, 0, 0, 2 * Math.PI)
      if (outline === 'round-groove') {
        pen.moveTo(-0.9 * a, -0.3 * b)
        pen.quadraticCurveTo(0, 0.25 * b, 0.9 * a, -0.1 * b)
      }
      if (outline === 'lens') {
        pen.moveTo(-a, 0)
        pen.quadraticCurveTo(0, -0.35 * b, a, 0)
      }
      break
    case 'purse':
      pen.ellipse(0, 0, a, b, 0, 0, 2 * Math.PI)
      pen.moveTo(0.18 * a, 0)
      pen.arc(0, 0, 0.18 * a, 0, 2 * Math.PI)
      pen.moveTo(a, -0.25 * b)
      pen.lineTo(0.8 * a, 0)
      pen.lineTo(a, 0.25 * b)
      break
    case 'oval-cap':
    case 'drop':
      pen.ellipse(0, 0, a, b, 0, 0, 2 * Math.PI)
      pen.moveTo(0.6 * a, -0.8 * b)
      pen.quadraticCurveTo(0.75 * a, -0.1 * b, 0.55 * a, 0.55 * b)
      pen.moveTo(0.95 * a, 0)
      pen.lineTo(1.12 * a, -0.25 * b)
      break
    case 'teardrop':
      pen.moveTo(a, 0)
      pen.bezierCurveTo(0.2 * a, b * 1.5, -a, b * 1.2, -a, 0)
      pen.bezierCurveTo(-a, -b * 1.2, 0.2 * a, -b * 1.5, a, 0)
      break
    case 'needle':
      pen.moveTo(-a, 0)
      pen.quadraticCurveTo(0, -2 * b, a, 0)
      pen.quadraticCurveTo(0, 2 * b, -a, 0)
      pen.moveTo(-0.8 * a, 0)
      pen.lineTo(0.8 * a, 0)
      break
    case 'slipper':
      pen.ellipse(0, 0, a, b, 0, 0, 2 * Math.PI)
      for (let i = 0; i < 14; i++) {
        const angle = (2 * Math.PI * i) / 14
        pen.moveTo(a * Math.cos(angle), b * Math.sin(angle))
        pen.lineTo(1.14 * a * Math.cos(angle + 0.1), 1.25 * b * Math.sin(angle + 0.1))
      }
      break
    case 'row': {
      const wave = (x: number) => 0.04 * l * Math.sin((5 * x) / l + spin)
      for (const side of [-1, 1]) {
        pen.moveTo(-a, wave(-a) + side * b)
        for (let x = -a; x <= a; x += l / 24) pen.lineTo(x, wave(x) + side * b)
      }
      for (let x = -a; x <= a; x += w) {
        pen.moveTo(x, wave(x) - b)
        pen.lineTo(x, wave(x) + b)
      }
      break
    }
  }
}

/** `id`: an organism, or a sign of one. Its name stands beside it; the picture says nothing to who cannot see it. */
export function MovingPlate({ id, width = 220, still = false }: { id: string; width?: number; still?: boolean }) {
  const ref = useRef<HTMLCanvasElement>(null)
  const height = Math.round((width * 200) / 320)
  useEffect(() => {
    const canvas = ref.current
    const organism = organismOf(id)
    const pen = canvas?.getContext('2d')
    if (!canvas || !organism || !pen) return
    const scale = Math.max(1, window.devicePixelRatio || 1)
    canvas.width = width * scale
    canvas.height = height * scale
    const heightUm = (FIELD_UM * height) / width
    const chance = chanceOf(11)
    const cells = cellsOf(organism, heightUm, chance)
    const colour = (name: string) => getComputedStyle(canvas).getPropertyValue(name).trim() || '#10262b'
    const draw = (tails: boolean) => {
      pen.setTransform((width * scale) / FIELD_UM, 0, 0, (width * scale) / FIELD_UM, 0, 0)
      pen.clearRect(0, 0, FIELD_UM, heightUm)
      pen.lineJoin = 'round'
      pen.lineWidth = FIELD_UM / width
      for (const cell of cells) {
        if (tails && organism.motion !== 'still') {
          const back = { ...cell }
          pen.beginPath()
          pen.moveTo(cell.x, cell.y)
          pen.strokeStyle = colour('--quiet')
          pen.setLineDash([4, 5])
          for (let t = 0; t < TAIL_S; t += 0.05) {
            const before = { ...back }
            swim(back, organism.motion, 0.05, heightUm, chance)
            if (Math.hypot(back.x - before.x, back.y - before.y) > FIELD_UM / 3) break
            pen.lineTo(back.x, back.y)
          }
          pen.stroke()
          pen.setLineDash([])
        }
        pen.save()
        pen.translate(cell.x, cell.y)
        const sway = organism.motion === 'wags' ? 0.25 * Math.sin(cell.spin) : 0
        pen.rotate(
          organism.motion === 'spins' || organism.motion === 'circles' || organism.motion === 'shivers'
            ? cell.spin
            : cell.heading + sway,
        )
        // It turns about its point, not about its middle.
        if (organism.motion === 'spins' && !cell.going) pen.translate(-cell.lengthUm / 2, 0)
        trace(pen, organism.outline, cell)
        pen.fillStyle = colour('--tray')
        if (organism.outline !== 'row') pen.fill()
        pen.strokeStyle = colour('--ink')
        pen.stroke()
        pen.restore()
      }
      if (width < 110) return
      // A bar of 50 µm.
      pen.beginPath()
      pen.moveTo(FIELD_UM - 70, heightUm - 14)
      pen.lineTo(FIELD_UM - 20, heightUm - 14)
      pen.lineWidth = (2 * FIELD_UM) / width
      pen.strokeStyle = colour('--ink')
      pen.stroke()
      pen.fillStyle = colour('--ink')
      pen.font = `${Math.round((10 * FIELD_UM) / width)}px "Atkinson Hyperlegible Next Variable", sans-serif`
      pen.textAlign = 'center'
      pen.fillText('50 µm', FIELD_UM - 45, heightUm - 22)
    }
    if (still || matchMedia('(prefers-reduced-motion: reduce)').matches) {
      draw(true)
      return
    }
    let frame = 0
    let before = performance.now()
    let seen = true
    const watch =
      typeof IntersectionObserver === 'undefined'
        ? null
        : new IntersectionObserver(([entry]) => {
            seen = entry?.isIntersecting ?? true
          })
    watch?.observe(canvas)
    const tick = (now: number) => {
      const dt = Math.min(0.1, (now - before) / 1000)
      before = now
      if (seen) {
        for (const cell of cells) swim(cell, organism.motion, dt, heightUm, chance)
        draw(false)
      }
      frame = requestAnimationFrame(tick)
    }
    frame = requestAnimationFrame(tick)
    return () => {
      cancelAnimationFrame(frame)
      watch?.disconnect()
    }
  }, [id, width, height, still])
  return <Field ref={ref} style={{ width, height }} aria-hidden data-plate={id} />
}
