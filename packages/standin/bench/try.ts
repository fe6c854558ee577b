import { runTrial, runHabit } from '../src/world/trial';
const q=(a:number[],p:number)=>[...a].sort((x,y)=>x-y)[Math.floor(p*(a.length-1))]!;
const n=Number(process.argv[2]??100);
for (const [name,aperture,beamDeg,notchDeg] of [['panel','panel',30,5],['dish','dish',6,1]] as const)
 for (const source of ['phone','scale','none'] as const){
  const t0=performance.now();
  const r=Array.from({length:n},(_,i)=>runTrial({aperture,beamDeg,source,notchDeg,playDeg:0.5,startWidths:3,levelled:!!process.argv[3]},i+1));
  const l=r.map(x=>x.lossDb);
  console.log(name,source,'median',q(l,.5).toFixed(3),'p95',q(l,.95).toFixed(2),'max',q(l,1).toFixed(1),'turns',q(r.map(x=>x.turns),.5),q(r.map(x=>x.turns),.95),'s',q(r.map(x=>x.seconds),.5).toFixed(0),'bad',r.map((x,i)=>x.lossDb>1?i+1:0).filter(Boolean).slice(0,6).join(),'unfinished',r.filter(x=>!x.finished).length,'steps',q(r.map(x=>x.steps.length),.5), ((performance.now()-t0)/n).toFixed(0)+'ms');
 }
for (const [name,aperture,beamDeg,notchDeg] of [['panel','panel',30,5],['dish','dish',6,1]] as const){
 const l=Array.from({length:n},(_,i)=>runHabit({aperture,beamDeg,source:'none',notchDeg,playDeg:.5,startWidths:3,levelled:!!process.argv[3]},i+1).lossDb);
 console.log(name,'habit',q(l,.5).toFixed(2),q(l,.95).toFixed(1));
}
