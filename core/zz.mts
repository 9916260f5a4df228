import { readFileSync } from 'node:fs';
import { readExr } from './src/formats/exr/index.ts';
import { halvesToFloats } from './src/planes/half.ts';
for (const c of process.argv.slice(2)) {
  const t=performance.now();
  const a=readExr(new Uint8Array(readFileSync(`/tmp/ex/${c}.exr`))); const dt=performance.now()-t;
  const b=readExr(new Uint8Array(readFileSync(`/tmp/ex/${c}_n.exr`)));
  const f=(d:any)=>d instanceof Uint16Array?halvesToFloats(d):d;
  console.log(c, dt.toFixed(0),'ms', a.channels.map(x=>{ const p=f(x.data), q=f(b.channels.find(y=>y.name===x.name)!.data); let w=0,n=0,wr=0; for(let i=0;i<p.length;i++){const e=Math.abs(p[i]-q[i]); if(!(e<=0)&&!(Number.isNaN(p[i])&&Number.isNaN(q[i])))n++; w=Math.max(w,e); const step=2**(Math.floor(Math.log2(Math.max(Math.abs(q[i]),6.2e-5)))-10); wr=Math.max(wr,e/step)} return `${x.name}:${n}/${w.toExponential(1)}/${wr.toFixed(2)}`}).slice(-8).join(' '));
}
