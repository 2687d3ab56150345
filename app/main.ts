/** What the first view is made of comes in one file; every other view comes when it is asked for. */
import {boot} from './boot';
import './shell/shell.component';
import './fleet/fleet.component';

boot().catch((error: unknown) => console.error(error));
