import { styled } from 'styled-components'

const List = styled.ul`
  display: grid;
  gap: 8px;
  max-width: 68ch;
  li {
    padding-left: 16px;
    border-left: 3px solid var(--rim);
  }
`
/** The plain page: what this program is, and what comes before it. @source handbook 70 */
export function SafetyWords() {
  return (
    <List>
      <li>
        <strong>It plans and records; it does not prescribe.</strong> What it says is guidance from literature and
        keeper practice. The product's label, the law where you live and an aquatic veterinarian come first. You decide.
      </li>
      <li>
        <strong>Fish gasping, lying down or dusted?</strong> Do not read on: add air, test ammonia, change half the
        water with matched clean water, then call a veterinarian.
      </li>
      <li>
        Hazards are shown before every amount. Gloves, goggles, air; children and pets away; nothing in food or drink
        containers; never start a siphon by mouth.
      </li>
      <li>
        One chemical at a time. Never mix bleach with acid, ammonia, alcohol, peroxide or formalin. Never a second
        copper product, a reducing binder or peroxide in copper water.
      </li>
      <li>
        Eye or skin: running water for 15 minutes. Swallowed: do not make the person vomit, call the poison centre with
        the label in hand. Trouble breathing: emergency call.
      </li>
      <li>
        Treated water, medicines and dead stock never go into streams, storm drains or gardens. No animal, plant or
        water is ever released.
      </li>
      <li>Unplug before hands go in the water; drip loops and a residual-current switch on every socket.</li>
      <li>
        <strong>Everything stays in this browser</strong> unless you export it. Nothing is sent anywhere. Export now and
        then: a browser can lose its storage.
      </li>
    </List>
  )
}
