/** What stands around turning motors: the held mixer, the ends of analog throttle, tones. */
import {sameJson} from '../canonical-json';
import {throttleValue} from '../dshot/command';
import {isDigital, type Protocol} from '../dshot/protocol';
import {maxOutputs, operations} from '../link/operations';
import {Broken, expectDone, expectRefusal, type ConformanceRule} from './adapter-rule';

export const spinExtras: readonly ConformanceRule[] = [
  {
    id: 'mixer-rows',
    text: 'The mixer has one row for each output, or none where it knows none; two readings are equal.',
    needs: ['mixer'],
    async try({link, hello}) {
      const read = async () => expectDone(await link.ask('mixer.read', null), 'mixer.read');
      const rows = operations['mixer.read'].result.safeParse(await read());
      if (!rows.success) throw new Broken(`mixer.read: ${rows.error.issues[0]?.message ?? 'does not read'}.`);
      if (rows.data.length !== 0 && rows.data.length !== Math.min(maxOutputs, hello.outputs))
        throw new Broken(`The mixer has ${rows.data.length} rows for ${hello.outputs} outputs.`);
      if (!sameJson(await read(), rows.data)) throw new Broken('Read again, the mixer differs.');
    },
  },
  {
    id: 'ends-power',
    text: 'The highest analog pulse is refused while ESCs have power, with powered, or not-analog where the protocol is digital.',
    needs: ['ends', 'esc'],
    async try({link}) {
      const heard = await link.ask('ends.send', {level: 'highest', leaseMs: 200});
      expectRefusal(heard, 'ends.send of the highest pulse with the battery on', 'powered', 'not-analog');
    },
  },
  {
    id: 'tone-stands',
    text: 'A tone is refused with turning while a motor is commanded to turn.',
    needs: ['tone', 'spin', 'controller', 'esc'],
    turns: true,
    async try({link}) {
      const config = expectDone(await link.ask('controller.read', null), 'controller.read') as {protocol?: Protocol};
      const {lastHold} = expectDone(await link.ask('hello', null), 'hello') as {lastHold: number};
      const hold = lastHold + 1;
      const renew = (value: number) =>
        link.ask('spin', {hold, sentMs: link.clock.now(), leaseMs: 200, commands: [{output: 0, value}]});
      expectDone(await renew(0), 'the first renewal of a hold, which turns nothing');
      expectDone(await renew(throttleValue(0.03)), 'a renewal that turns');
      const heard = await link.ask('tone.sound', {output: 0, kind: 'usual'});
      await link.ask('spin.stop', {hold});
      expectRefusal(
        heard,
        'tone.sound while a motor turns',
        isDigital(config.protocol ?? 'analog') ? 'turning' : 'not-digital',
      );
    },
  },
];
