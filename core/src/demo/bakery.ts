/** The demo shots of Lantern Row Bakery, by a name that stays. */
import type { Shot } from '../document/shot.ts';
import { doughToss } from './dough-toss.ts';
import { firstTray } from './first-tray.ts';
import { kneadingLoop } from './kneading-loop.ts';
import { lateRound } from './late-round.ts';
import { ovenDoor } from './oven-door.ts';
import { nightRound } from './night-round.ts';
import { overThePuddle } from './over-the-puddle.ts';

export const DEMO_SHOTS: readonly { readonly id: string; readonly make: () => Shot }[] = [
  { id: 'dough-toss', make: doughToss },
  { id: 'night-round', make: nightRound },
  { id: 'late-round', make: lateRound },
  { id: 'first-tray', make: firstTray },
  { id: 'over-the-puddle', make: overThePuddle },
  { id: 'kneading-loop', make: kneadingLoop },
  { id: 'oven-door', make: ovenDoor },
];
