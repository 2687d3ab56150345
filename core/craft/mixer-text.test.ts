/** A mixer as text, written and read: CSV by RFC 4180, and texts that are none. */
import {describe, expect, it} from 'vitest';
import {alder} from '@demo/craft/alder';
import {juniper} from '@demo/craft/juniper';
import {wantedDirections} from './craft';
import {mixerOf} from './mixer';
import {mixerCsv, readMixer} from './mixer-text';

const four = ['1,-1,1,1', '1,-1,-1,-1', '1,1,-1,1', '1,1,1,-1'];
const why = (text: string) => {
  const read = readMixer(text, juniper.arms);
  return 'why' in read ? read.why : undefined;
};

describe('a mixer as text', () => {
  it('comes back as it was written, names with commas, quotes and spaces in them too', () => {
    const arms = alder.arms.map((a, i) => ({
      ...a,
      name: [a.name, 'front, right', 'the "long" one', ' odd '][i] ?? a.name,
    }));
    const mixer = mixerOf(arms, wantedDirections({...alder, arms}));
    const read = readMixer(mixerCsv(mixer, arms), arms);
    expect(read).toEqual({
      rows: mixer.rows.map((row) =>
        Object.fromEntries(Object.entries(row).map(([axis, share]) => [axis, Number(share.toFixed(4))])),
      ),
    });
  });
  it('is read by the names of the arms, whatever their order, and without names in that order', () => {
    const [a, b, c, d] = juniper.arms.map(({name}, i) => `${name};${four[i]!.replaceAll(',', ';')}`) as [
      string,
      string,
      string,
      string,
    ];
    const named = readMixer(`# copied\nArm;Throttle;Roll;Pitch;Yaw\n\n${[d, b, a, c].join('\r\n')}\n`, juniper.arms);
    const plain = readMixer(four.join('\n').replaceAll(',', '\t'), juniper.arms);
    expect(named).toEqual(plain);
    expect(named).toMatchObject({rows: [{roll: -1, pitch: 1, yaw: 1}, {roll: -1, pitch: -1}, {roll: 1}, {yaw: -1}]});
  });
  it('takes the minus sign that a page prints', () => {
    expect(readMixer(four.join('\n').replaceAll('-', '−'), juniper.arms)).toEqual(
      readMixer(four.join('\n'), juniper.arms),
    );
  });
  it('says why a text is none, with the row', () => {
    expect(why('')).toContain('0 rows, and the craft has 4 arms');
    expect(why([...four, '1,0,0,0'].join('\n'))).toContain('5 rows');
    expect(why(['1,-1,x,1', ...four.slice(1)].join('\n'))).toContain('Row 1: expected an arm and four numbers');
    expect(why([...four.slice(0, 3), '1,1,1'].join('\n'))).toContain('Row 4');
    expect(why([...four.slice(0, 3), '1,1,,1'].join('\n'))).toContain('Row 4');
    expect(why([...four.slice(0, 3), '1,1,99,1'].join('\n'))).toContain('99 is not from −4 to 4');
    expect(why(juniper.arms.map((_, i) => `front left,${four[i]}`).join('\n'))).toContain('has no row');
    expect(why('x'.repeat(20_000))).toContain('longer than');
  });
});
