/** Writes wires as a value change dump, IEEE 1364 §18. */
import {levelAfter, type Wire} from './capture';

/** @param to last moment, s. Names may hold dots: the parts before the last are scopes. */
export function writeVcd(wires: readonly Wire[], to: number): string {
  const ticks = (s: number) => Math.round(s * 1e9);
  const head = wires.flatMap(({name}, i) => {
    const parts = name.replace(/\s+/g, '_').split('.');
    const own = parts.pop()!;
    return [
      ...parts.map((scope) => `$scope module ${scope} $end`),
      `$var wire 1 ${codeOf(i)} ${own} $end`,
      ...parts.map(() => '$upscope $end'),
    ];
  });
  const changes = wires
    .flatMap((wire, i) =>
      Array.from(wire.edges, (t, edge) => ({t: ticks(t), text: `${levelAfter(wire, edge + 1)}${codeOf(i)}`})),
    )
    .sort((a, b) => a.t - b.t);
  const body: string[] = [];
  let last = -1;
  for (const {t, text} of changes) {
    if (t !== last) body.push(`#${t}`);
    last = t;
    body.push(text);
  }
  const begin = wires.map((wire, i) => `${wire.first ?? 'x'}${codeOf(i)}`);
  return [
    '$timescale 1 ns $end',
    ...head,
    '$enddefinitions $end',
    ...['#0', '$dumpvars', ...begin, '$end', ...body, `#${ticks(to)}`],
    '',
  ].join('\n');
}

/** Printable characters from ! to ~, the shortest codes first. */
function codeOf(index: number): string {
  const first = String.fromCharCode(33 + (index % 94));
  return index < 94 ? first : first + codeOf(Math.floor(index / 94) - 1);
}
