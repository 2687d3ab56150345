/** Reports, and the road that an adapter takes. */
import {sleep} from '../link/port';
import {Broken, expectDone, expectRefusal, type ConformanceRule} from './rule';

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
      if (motors !== due) throw new Broken(`A report tells of ${motors} motors; ${due} are there.`);
      expectDone(await link.ask('reports', {on: false}), 'reports off');
      await sleep(link.clock, 250);
      const then = link.reports.length;
      await sleep(link.clock, 650);
      if (link.reports.length > then) throw new Broken('Reports come although they are off.');
    },
  },
  {
    id: 'single-wire',
    text: 'A single-wire adapter has one output and no flight controller.',
    needs: ['single-wire'],
    async try({link, hello}) {
      if (hello.outputs !== 1) throw new Broken(`It tells of ${hello.outputs} outputs.`);
      expectRefusal(await link.ask('controller.read', null), 'controller.read', 'no-controller');
      expectRefusal(await link.ask('esc.enter', {output: 1}), 'esc.enter of output 1', 'no-output', 'bad-argument');
    },
  },
];
