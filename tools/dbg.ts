import {DrillRun} from '/work/main/tools/drill/drill-run';
import {makeScenario} from '/work/main/tools/drill/scenario';
const seed = Number(process.argv[2]),
  craft = process.argv[3]!;
const run = new DrillRun(makeScenario(craft, seed), seed) as any;
if (process.argv[4] === 'spin') {
  const recv = run.bench.receive.bind(run.bench);
  const hear = run.bench.hear.bind(run.bench);
  const take = run.bench.take.bind(run.bench);
  run.bench.take = (l: any, s: number, op: string, a: any) => {
    if (op.startsWith('spin') || op === 'hello')
      console.log(run.time.now().toFixed(1), s, op, JSON.stringify(a).slice(0, 60), l.answers.has(s));
    return take(l, s, op, a);
  };
}
const {counters, notes, untrue, ended} = await run.go();
console.log(JSON.stringify({counters, notes, untrue, ended}));
