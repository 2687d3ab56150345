import {chromium} from '@playwright/test';
const [,, out, script] = process.argv;
const b = await chromium.launch({executablePath:'/usr/bin/chromium', args:['--no-sandbox','--disable-gpu']});
const page = await b.newPage({viewport:{width:1280,height:800}});
page.on('console', m=>{ if(m.type()==='error') console.log('ERR', m.text()); }); page.on('pageerror', e=>console.log('PAGEERR', e.message));
const click = async (name: string) => { await page.getByRole('button',{name, exact:true}).or(page.getByText(name,{exact:true})).first().click(); };
const shoot = async (n: string) => { await page.waitForTimeout(600); await page.screenshot({path:`/tmp/work/${n}.png`}); };
await (await import(script!)).default({page, click, shoot});
await b.close();
