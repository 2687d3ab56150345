/** What the simulated flight controller answers to what is asked of its settings: none of it takes time. */
import type {Answer, Argument, FieldLock, Operation} from '@core/link/operations';
import type {Controller} from './controller';
import {changesOf, describeFrom, readFrom} from './held-settings';

type Asked = Extract<Operation, `settings.${string}`>;
type SettingsCall = {[O in Asked]: {readonly operation: O; readonly argument: Argument<O>}}[Asked];

export function takeSettingsCommand(
  controller: Controller,
  call: SettingsCall,
  locks: readonly FieldLock[],
): Answer<Asked> {
  const {version} = controller.identity;
  const held = {version, config: controller.pending, kept: controller.pendingSettings};
  switch (call.operation) {
    case 'settings.describe':
      return describeFrom(version, call.argument);
    case 'settings.read':
      return readFrom(held, call.argument);
    case 'settings.write': {
      const changes = changesOf(held, call.argument.lines, locks);
      if ('code' in changes) return {wrong: changes};
      controller.setLines(changes);
      return {};
    }
    case 'settings.save':
      controller.save();
      return null;
  }
}
