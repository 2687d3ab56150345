/** What is said of a backup: what it holds, what it lacks, and why it cannot be put in place now. */
import type {BackupPart} from '../../backup/backup';
import type {Problem} from '../../problem';
import {counted} from '../../words/counted';

interface BackupHolds {
  readonly craft: number;
  readonly orders: number;
  readonly files: number;
  readonly logs: number;
}

export const backupText = ({craft, orders, files, logs}: BackupHolds): string =>
  `${craft} craft, ${counted(orders, 'work order')}, ${counted(files, 'own image')}, ${counted(logs, 'flight log')}`;

const partNames: Readonly<Record<BackupPart, string>> = {
  craft: 'craft and plans',
  records: 'what was found and proven',
  orders: 'work orders',
  journal: 'their journals',
  claims: 'boards that were named',
  histories: 'steps to undo',
  snapshots: 'snapshots',
  presets: 'presets',
  runs: 'runs of motors',
  stresses: 'runs under load',
  values: 'what you said of log columns',
  files: 'own images',
  logs: 'flight logs',
};

/** Parts that could not be read, named. */
export const lackText = (lacks: readonly BackupPart[]): string => lacks.map((part) => partNames[part]).join(', ');

/** Why nothing is put in place while something is under way. */
export const restoreRefusals: Readonly<Record<'order' | 'bench', Problem>> = {
  order: {
    code: 'order-running',
    place: 'backup',
    meaning: 'A work order is being carried out, here or in another tab. Its journal must not be replaced.',
    remedy: 'Nothing was changed. Let it finish, or stop it, then restore the backup again.',
  },
  bench: {
    code: 'bench-held',
    place: 'backup',
    meaning: 'Another tab of Bidex is using the bench and may write to it.',
    remedy: 'Nothing was changed. Close that tab, or take the bench over here, then restore the backup again.',
  },
};
