/** Zod compiles checks with `new Function` when it may; the security policy forbids it, and asking would be reported. */
import {config} from 'zod';

config({jitless: true});
