import { conditionPlate } from '/work/main/demo/make-conditions.ts';
import { jobFromTruth } from '/work/main/bench/accuracy-job.ts';
import { readFileSync, writeFileSync } from 'node:fs';
for (const c of process.argv.slice(2)) { const t=Date.now(); const p=await conditionPlate(`${c}@1`); writeFileSync(`/tmp/t/acc/${c}.job.json`,JSON.stringify(jobFromTruth(JSON.parse(readFileSync(p.truth,'utf8'))))); writeFileSync(`/tmp/t/acc/${c}.plate`,p.plate); console.log(c,p.plate,(Date.now()-t)/1000); }
