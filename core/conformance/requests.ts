/** Requests: greeted, numbered, refused with a reason, answered in time, and never carried out twice. */
import {encodeMessage} from '../link/message';
import {abilityOf, operations, type Ability, type Operation} from '../link/operations';
import {sleep} from '../link/port';
import {Broken, expectDone, expectRefusal, type ConformanceRule} from './adapter-rule';

const greet = {speaks: [1]};

export const greeting: readonly ConformanceRule[] = [
  {
    id: 'hello',
    text: '"hello" answers in its shape and in version 1, asked with the versions spoken or with null.',
    async try({link}) {
      for (const argument of [greet, null]) {
        const result = operations.hello.result.safeParse(expectDone(await link.ask('hello', argument), 'hello'));
        if (!result.success) throw new Broken(`Its shape is wrong: ${result.error.issues[0]?.path.join('.')}.`);
        if (result.data.link !== 1) throw new Broken(`It answers in version ${result.data.link}.`);
      }
    },
  },
  {
    id: 'hello-version',
    text: 'A client that speaks no version of the adapter is refused with link-version.',
    async try({link}) {
      expectRefusal(await link.ask('hello', {speaks: [65_535]}), 'hello in version 65535', 'link-version');
    },
  },
  {
    id: 'hello-fields',
    text: 'Fields it does not know are ignored.',
    async try({link}) {
      expectDone(await link.ask('hello', {...greet, colour: 'green'}), 'hello with an unknown field');
    },
  },
  {
    id: 'hello-client',
    text: 'A hello of another client resets the connection: request numbers start over, and reports are off.',
    async try({link, hello}) {
      const number = 77;
      expectDone(await link.ask('power', null, number), 'power');
      if (hello.abilities.includes('reports')) expectDone(await link.ask('reports', {on: true}), 'reports');
      await link.greet();
      const again = operations.hello.result.safeParse((await link.ask('hello', greet, number)).value);
      if (!again.success) throw new Broken('It answers a number with what another client had asked under it.');
      const before = link.reports.length;
      await link.hearFor(400);
      if (link.reports.length > before) throw new Broken('Reports that another client turned on go on.');
    },
  },
  {
    id: 'abilities',
    text: 'What it names as an ability it knows; what it does not name it refuses.',
    async try({link, hello}) {
      const asks: Partial<Record<Ability, [Operation, unknown]>> = {
        controller: ['controller.identify', null],
        reports: ['reports', {on: false}],
        dialect: ['adapter.dialect', {dialect: 'A'}],
        spin: ['spin.stop', {hold: 0}],
      };
      for (const [operation, argument] of Object.values(asks)) {
        const heard = await link.ask(operation, argument);
        if (hello.abilities.includes(abilityOf(operation)!)) expectDone(heard, operation);
        else expectRefusal(heard, operation, 'no-controller', 'unsupported', 'unknown-operation');
      }
    },
  },
];

const wrong: readonly [Operation, unknown][] = [
  ['esc.read', {output: 0, address: 0x1000, length: 0}],
  ['esc.read', {output: 0, address: 0x1000, length: 257}],
  ['esc.write', {output: 0, address: 0xff00, bytes: new Uint8Array(257).fill(0xff)}],
  ['esc.enter', {output: 16}],
  ['esc.enter', {}],
  ['controller.set', {poles: 1}],
  ['controller.set', {protocol: 'dshot9000'}],
  ['spin', {hold: 1, sentMs: 0, leaseMs: 501, commands: []}],
  ['spin', {hold: 1, sentMs: 0, leaseMs: 0, commands: []}],
];

export const requests: readonly ConformanceRule[] = [
  {
    id: 'unknown-operation',
    text: 'An operation it does not know is refused with unknown-operation.',
    async try({link}) {
      expectRefusal(await link.ask('bench.sing', null), 'bench.sing', 'unknown-operation');
    },
  },
  {
    id: 'ranges',
    text: 'Arguments out of range are refused with bad-argument.',
    async try({link, hello}) {
      for (const [operation, argument] of wrong)
        if (hello.abilities.includes(abilityOf(operation)!))
          expectRefusal(
            await link.ask(operation, argument),
            `${operation} ${JSON.stringify(argument, (_, v: unknown) => (v instanceof Uint8Array ? `${v.length} bytes` : v))}`,
            'bad-argument',
            'no-output',
          );
    },
  },
  {
    id: 'numbers',
    text: 'Every answer carries the number of its request, and comes once.',
    async try({link}) {
      for (const sequence of [7, 9, 65_535])
        await link.send(encodeMessage({sequence, operation: 'power', argument: null}));
      for (const sequence of [7, 9, 65_535]) expectDone(await link.answerTo(sequence), `power, number ${sequence}`);
      await sleep(link.clock, 200);
      const numbers = link.answers.map(({message}) => message.sequence).sort((a, b) => a - b);
      if (numbers.join() !== '7,9,65535') throw new Broken(`Answers came with the numbers ${numbers.join(', ')}.`);
    },
  },
  {
    id: 'in-time',
    text: 'Answers come within the time-outs of the link.',
    async try({link, hello, chip}) {
      const asks: [Operation, unknown][] = [
        ['hello', greet],
        ['power', null],
      ];
      if (hello.abilities.includes('controller')) asks.push(['controller.read', null]);
      if (chip) asks.push(['esc.enter', {output: 0}], ['esc.read', {output: 0, address: 0, length: 256}]);
      for (const [operation, argument] of asks) {
        const {timeoutMs} = operations[operation];
        const {afterMs} = await link.ask(operation, argument);
        if (afterMs > timeoutMs)
          throw new Broken(`${operation} took ${Math.round(afterMs)} ms; ${timeoutMs} are allowed.`);
      }
    },
  },
  {
    id: 'copies-of-readings',
    text: 'A copy of a request that only reads is answered again, with the same number.',
    async try({link}) {
      const frame = encodeMessage({sequence: 5, operation: 'power', argument: null});
      await link.send(frame);
      expectDone(await link.answerTo(5), 'power');
      const from = link.answers.length;
      await link.send(frame);
      expectDone(await link.answerTo(5, {from}), 'the copy');
    },
  },
  {
    id: 'copies-of-changes',
    text: 'A copy of a request that changes something is answered and not carried out again.',
    needs: ['controller'],
    async try({link}) {
      const {poles} = expectDone(await link.ask('controller.read', null), 'controller.read') as {poles: number};
      const [first, second] = [12, 14, 22].filter((p) => p !== poles) as [number, number];
      const frame = encodeMessage({sequence: 3, operation: 'controller.set', argument: {poles: first}});
      await link.send(frame);
      expectDone(await link.answerTo(3), 'controller.set');
      expectDone(await link.ask('controller.set', {poles: second}), 'controller.set');
      const from = link.answers.length;
      await link.send(frame);
      const copy = await link.answerTo(3, {from});
      const now = expectDone(await link.ask('controller.read', null), 'controller.read') as {poles: number};
      // Not saved: as it was before, so that nothing stays of this trial.
      await link.ask('controller.set', {poles});
      if (now.poles !== second) throw new Broken('A copy of controller.set was carried out a second time.');
      expectDone(copy, 'the copy of controller.set');
    },
  },
  {
    id: 'part-of-configuration',
    text: 'controller.part answers the named fields as controller.read has them, and ignores names it does not know.',
    needs: ['controller'],
    async try({link}) {
      const whole = expectDone(await link.ask('controller.read', null), 'controller.read') as Record<string, unknown>;
      const fields = ['poles', 'loopHz', 'moonPhase'];
      const part = expectDone(await link.ask('controller.part', {fields}), 'controller.part') as Record<
        string,
        unknown
      >;
      if (Object.keys(part).sort().join() !== 'loopHz,poles')
        throw new Broken(`Requested ${fields.join(', ')} it answered ${Object.keys(part).join(', ')}.`);
      for (const field of Object.keys(part))
        if (part[field] !== whole[field]) throw new Broken(`${field} is another one in a part than in the whole.`);
    },
  },
  {
    id: 'fresh-numbers',
    text: 'Numbers are forgotten when the connection is opened again.',
    needs: ['controller'],
    async try(trial) {
      const {link} = trial;
      const {poles} = expectDone(await link.ask('controller.read', null), 'controller.read') as {poles: number};
      const other = poles === 14 ? 12 : 14;
      expectDone(await link.ask('controller.set', {poles: other}, 4), 'controller.set');
      const fresh = await trial.again();
      expectDone(await fresh.ask('controller.set', {poles}, 4), 'controller.set on a new connection');
      const now = expectDone(await fresh.ask('controller.read', null), 'controller.read') as {poles: number};
      if (now.poles !== poles) throw new Broken('A request of a new connection was taken for a copy of an old one.');
    },
  },
  {
    id: 'several',
    text: 'Several requests may be under way: two for one ESC and others beside them.',
    async try({link, chip}) {
      const reads = chip ? [0, 1] : [];
      if (chip) expectDone(await link.ask('esc.enter', {output: 0}), 'esc.enter');
      const from = link.answers.length;
      for (const i of reads)
        await link.send(
          encodeMessage({sequence: 20 + i, operation: 'esc.read', argument: {output: 0, address: i * 64, length: 64}}),
        );
      await link.send(encodeMessage({sequence: 22, operation: 'power', argument: null}));
      for (const sequence of [...reads.map((i) => 20 + i), 22])
        expectDone(await link.answerTo(sequence, {from}), `request ${sequence} of several under way`);
    },
  },
];
