import {describe, expect, it} from 'vitest';
import type {ListedPort} from './bridge';
import {plugging} from './plugging';

const modem: ListedPort = {path: '/dev/ttyS0'};
const board: ListedPort = {path: '/dev/ttyACM0', vendor: '0483', product: '5740', serial: '4F0012'};
const loader: ListedPort = {...board, product: 'df11'};

describe('two lists of ports', () => {
  it('tell what came and what went', () => {
    expect(plugging([modem], [modem, board])).toEqual({came: [board], went: [], turned: []});
    expect(plugging([board, modem], [modem])).toEqual({came: [], went: [board], turned: []});
    expect(plugging([modem], [{...modem}])).toEqual({came: [], went: [], turned: []});
  });
  it('tell a board that is another device now, and one that took the place of another', () => {
    expect(plugging([modem, board], [loader, modem])).toEqual({came: [], went: [], turned: [[board, loader]]});
    const moved = {...board, path: '/dev/ttyACM1'};
    expect(plugging([board], [moved])).toEqual({came: [moved], went: [board], turned: []});
  });
});
