/** Someone else's hand: another program changes an ESC's settings while Bidex is not looking. */
import {decodeSettings, encodeSettings, settingsBytes} from '@core/settings/page';
import type {Esc} from '../esc/esc';

/** Sets the tone loudness to 30, or to 200 where it is 30. An ESC without readable settings stays as it is. */
export function meddleWithSettings(esc: Esc): void {
  const {settings, pageBytes} = esc.chip;
  const page = esc.flash.read(settings.start, pageBytes);
  const read = decodeSettings(page);
  if (!read.ok) return;
  const toneLoudness = read.value.values.toneLoudness === 30 ? 200 : 30;
  page.set(encodeSettings(read.value.layout, {...read.value.values, toneLoudness}, page.subarray(0, settingsBytes)));
  esc.flash.erase(settings.start);
  esc.flash.write(settings.start, page);
  if (esc.state === 'running') esc.start();
}
