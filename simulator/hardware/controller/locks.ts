/** Fields that the simulated flight controller lets not be set in some state, and the state that it is in. */
import {canonicalJson} from '@core/canonical-json';
import {everyField, wireFields, type FieldLock, type LockState, type WireConfig} from '@core/link/operations';

/** An output that changes its arm under power would turn a motor that nobody meant; motors that turn fix everything. */
const fieldsOf: Readonly<Record<LockState, readonly string[]>> = {
  powered: ['arms'],
  armed: [everyField],
  connected: ['failSafe'],
};

interface BenchState {
  readonly batteryOn: boolean;
  /** Someone holds motors. */
  readonly held: boolean;
  /** ms since the receiver's last frame. */
  readonly silentMs: number;
}
/** A transmitter without a frame for so long is not connected, ms. */
const disconnectedMs = 250;

export function locksNow({batteryOn, held, silentMs}: BenchState): FieldLock[] {
  const is: Readonly<Record<LockState, boolean>> = {
    powered: batteryOn,
    armed: held,
    connected: silentMs < disconnectedMs,
  };
  return (['powered', 'armed', 'connected'] as const).map((state) => ({
    fields: [...fieldsOf[state]],
    while: state,
    held: is[state],
  }));
}

/** Why these changes are refused; undefined where no lock stands in their way. */
export function refusedByLock(
  changes: Partial<WireConfig>,
  now: WireConfig,
  locks: readonly FieldLock[],
): string | undefined {
  const changed = wireFields.filter(
    (field) => changes[field] !== undefined && canonicalJson(changes[field]) !== canonicalJson(now[field]),
  );
  for (const lock of locks) {
    const field = lock.held && changed.find((f) => lock.fields.some((l) => l === f || l === everyField));
    if (field) return `"${field}" cannot be set while it is ${lock.while}.`;
  }
  return undefined;
}
