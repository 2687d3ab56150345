/**
 * Zod compiles checks with `new Function` when it may; the security policy forbids it, and asking would be reported. Zod
 * reads this object when it is loaded, so it stands in a script that runs before everything else.
 */
Object.assign(globalThis, {__zod_globalConfig: {jitless: true}});
