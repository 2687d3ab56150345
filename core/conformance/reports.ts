/** Reports, and the road that an adapter takes. */
import {sleep} from '../link/port';
import {Broken, NotTried, expectDone, expectRefusal, type ConformanceRule} from './adapter-rule';

export const reports: readonly ConformanceRule[] = [
  {
    id: 'reports',
    text: 'Reports come every 200 ms at rest while they are on, and none while they are off.',
    needs: ['reports'],
    async try({link, hello}) {
      expectDone(await link.ask('reports', {on: true}), 'reports on');
      await sleep(link.clock, 1_050);
      const came = link.reports.length;
      if (came < 4 || came > 60) throw new Broken(`${came} reports came in a second at rest; 5 are due.`);
      const motors = link.reports.at(-1)!.report.motors.length;
      const due = hello.road === 'controller' ? hello.outputs : 0;
      if (motors !== due) throw new Broken(`A report has ${motors} motors; ${due} are connected.`);
      expectDone(await link.ask('reports', {on: false}), 'reports off');
      await sleep(link.clock, 250);
      const then = link.reports.length;
      await sleep(link.clock, 650);
      if (link.reports.length > then) throw new Broken('Reports come although they are off.');
    },
  },
  {
    id: 'losses-add-up',
    text: 'Where a report counts lost replies by kind, the kinds add up to those lost, and no run of them is longer.',
    needs: ['reports', 'controller'],
    async try({link}) {
      expectDone(await link.ask('reports', {on: true}), 'reports on');
      await sleep(link.clock, 650);
      const told = link.reports.flatMap(({report}) => report.motors.map((m, i) => ({...m, name: `motor ${i + 1}`})));
      const apart = told.filter((m) => m.lostAs);
      if (!apart.length) throw new NotTried('Its reports do not count lost replies by kind.');
      for (const {name, lost, lostAs} of apart) {
        const {missing, code, checksum, run} = lostAs!;
        if (missing + code + checksum !== lost)
          throw new Broken(`The kinds of ${name} add up to ${missing + code + checksum}, ${lost} were lost.`);
        if (run > lost) throw new Broken(`A run of ${run} lost replies of ${name}, of ${lost} in all.`);
      }
    },
  },
  {
    id: 'single-wire',
    text: 'A single-wire adapter has one output and no flight controller.',
    needs: ['single-wire'],
    async try({link, hello}) {
      if (hello.outputs !== 1) throw new Broken(`It reports ${hello.outputs} outputs.`);
      expectRefusal(await link.ask('controller.read', null), 'controller.read', 'no-controller');
      expectRefusal(await link.ask('esc.enter', {output: 1}), 'esc.enter of output 1', 'no-output', 'bad-argument');
    },
  },
];
