/** What the text formats share: one record a line, blank lines allowed, an end record last. */
import type {ImageFault, ImageReading} from '../image';
import {ImageCollector} from './pieces';

interface RecordFormat<R extends object> {
  /** One line without white space around it, as a record or as what is wrong with it. */
  readonly readRecord: (content: string, line: number) => R | ImageFault;
  /** Uses a record; answers whether it ends the file. */
  readonly take: (record: R, line: number, collector: ImageCollector) => boolean;
  /** Whether the file is whole although no end record came. */
  readonly isWhole?: () => boolean;
}

/** Told now and then how far a reading is, 0…1. */
export type OnShare = (share: number) => void;
/** Lines between two reports. */
const reportEvery = 16_384;

/** Reads a file of records. Never throws: every fault is listed with its line. */
export function readRecordFile<R extends object>(
  text: string,
  {readRecord, take, isWhole}: RecordFormat<R>,
  onShare?: OnShare,
): ImageReading {
  const collector = new ImageCollector();
  let ended = false;
  const lines = text.split(/\r\n|\n|\r/);
  lines.forEach((raw, index) => {
    const line = index + 1;
    if (line % reportEvery === 0) onShare?.(line / lines.length);
    const content = raw.trim();
    if (content === '') return;
    if (ended) {
      const text = 'A record follows the end record. The file was joined or cut.';
      collector.fault({line, kind: 'data-after-end', text});
      return;
    }
    const record = readRecord(content, line);
    if ('kind' in record) collector.fault(record);
    else ended = take(record, line, collector);
  });
  if (!ended && !isWhole?.())
    collector.fault({line: lines.length, kind: 'missing-end', text: 'No end record. The file is cut off.'});
  return collector.finish();
}
