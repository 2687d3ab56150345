/** What an order is about, in a few words: snapshots taken before it are named by it. */
import type {WorkOrder} from './work-order';

/** Longest name, letters: a snapshot has room for so many. */
const longest = 70;

export function orderAbout({rollsBack, steps}: Pick<WorkOrder, 'rollsBack' | 'steps'>): string {
  if (rollsBack !== undefined) return 'a roll-back';
  const names = new Set<string>();
  for (const step of steps)
    switch (step.kind) {
      case 'write-firmware':
      case 'write-controller':
        names.add(step.image.name);
        break;
      case 'visit':
        for (const {image} of step.writes) names.add(image.name);
        if (step.settings) names.add('ESC settings');
        break;
      case 'set-parameters':
        names.add('ESC settings');
        break;
      case 'set-controller':
        names.add('flight controller settings');
        break;
      default:
    }
  const about = [...names].join(', ');
  return about.length > longest ? `${about.slice(0, longest - 1)}…` : about || 'proofs';
}
