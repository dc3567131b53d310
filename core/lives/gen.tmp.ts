import { mkdirSync, writeFileSync } from 'node:fs'
import { encode } from 'fast-png'
import { slideFrame, slideScene, slideTruth } from '../src/world/microscope.ts'
const scene=slideScene({seed:4711,level:'usual',width:1280,height:720,fps:10,seconds:20,umPerPx:0.5,genera:{ostreopsis:22,coolia:4},round:false})
mkdirSync('/tmp/big',{recursive:true}); writeFileSync('/tmp/big/truth.json',JSON.stringify(slideTruth(scene)))
for(let f=0;f<scene.frames;f++){const p=slideFrame(scene,f);writeFileSync(`/tmp/big/f-${String(f).padStart(4,'0')}.png`,encode({width:p.width,height:p.height,channels:3,depth:8,data:Uint8Array.from(p.data)},{zlib:{level:1}} as any))}
