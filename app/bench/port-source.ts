/** Where the byte port to a bench comes from. Nothing above this seam knows what lies behind it. */
import {InjectionToken} from '@angular/core';
import type {Craft} from '@core/craft/craft';
import type {BytePort} from '@core/link/port';

export interface PortSource {
  /** Opens the port to the bench of a craft. Rejects with a ProblemError when there is none or it is held. */
  open(craft: Craft | undefined): Promise<BytePort>;
}

export const PORT_SOURCE = new InjectionToken<PortSource>('port source');
