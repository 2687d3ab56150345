import {describe, expect, it} from 'vitest';
import {meridianImage} from '@simulator/firmware/meridian';
import {crc32} from '../../checksums';
import {chips} from '../chips';
import {contentOf} from './image-content';
import {flatten} from '../image';

const chip = chips.M32;
const gneiss = {board: 'Gneiss 45', deadTimeNs: 45};

describe('content of an image', () => {
  const image = meridianImage('4.2', gneiss);
  it('is its pages with their checksums, and its identity', () => {
    const {pages, identity} = contentOf(image, chip, chip.application);
    const flat = flatten(image, chip.application);
    expect(pages).toHaveLength(41);
    pages.forEach((page, i) => {
      expect(page.address).toBe(0x1000 + i * 1024);
      expect(page.crc32).toBe(crc32(flat.subarray(i * 1024, (i + 1) * 1024)));
    });
    expect(identity.ok && identity.value.version).toBe('4.2');
  });
  it('is worked out once for each image and region, and never mixed up', () => {
    const first = contentOf(image, chip, chip.application);
    expect(contentOf(image, chip, chip.application)).toBe(first);
    expect(contentOf(image, chip, chip.module!)).not.toBe(first);
    const other = contentOf(meridianImage('4.1', gneiss), chip, chip.application);
    expect(other.identity.ok && other.identity.value.version).toBe('4.1');
  });
});
