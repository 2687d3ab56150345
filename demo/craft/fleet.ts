/** The craft a first visit finds. */
import {alder} from './alder';
import {bramble} from './bramble';
import type {Craft} from '@core/craft/craft';
import {juniper} from './juniper';
import {sorrel} from './sorrel';

export const demoFleet: readonly Craft[] = [juniper, sorrel, alder, bramble];
