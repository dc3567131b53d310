// One page for a sitter's phone: opens without a network, keeps what is ticked, and makes the small file that is sent back.
import { ANALYTES, preferredUnit, SITTER_FORMAT, SITTER_VERSION, type SitterPlan, type Settings } from '@brinvo/core'
import { preferencesOf } from '../../design/words.ts'

export interface SitterSheet {
  readonly sheetId: string
  readonly title: string
  readonly call: string
  readonly days: readonly {
    readonly day: string
    readonly label: string
    readonly vessels: readonly {
      readonly id: string
      readonly name: string
      readonly lines: readonly {
        readonly kind: string
        readonly title: string
        readonly detail: string
        readonly analyte?: string
        readonly unit?: string
      }[]
    }[]
  }[]
}

/** A plan as what its page shows. */
export function sheetOf(
  plan: SitterPlan,
  settings: Settings,
  about: {
    readonly sheetId: string
    readonly title: string
    readonly call: string
    readonly label: (day: string) => string
  },
): SitterSheet {
  const { label, ...rest } = about
  return {
    ...rest,
    days: plan.days
      .filter(({ vessels }) => vessels.length > 0)
      .map(({ day, vessels }) => ({
        day,
        label: label(day),
        vessels: vessels.map(({ vessel, lines }) => ({
          id: vessel.id,
          name: vessel.body.name,
          lines: lines.map(({ kind, title, detail, analyte }) => ({
            kind,
            title,
            detail,
            ...(analyte === undefined
              ? {}
              : { analyte, unit: preferredUnit(ANALYTES[analyte].dimension, preferencesOf(settings)) }),
          })),
        })),
      })),
  }
}

const STYLE = `
:root{color-scheme:light dark}
*{box-sizing:border-box}
body{margin:0;font:17px/1.45 system-ui,sans-serif;background:#eff4f1;color:#14252b}
main{max-width:640px;margin:0 auto;padding:14px 14px 90px}
h1{font-size:24px;margin:6px 0}h2{font-size:20px;margin:22px 0 8px}h3{font-size:17px;margin:0 0 6px}
.care{background:#fff3cf;border:2px solid #c98a00;border-radius:12px;padding:12px}
.tank{background:#fff;border:1px solid #c9d6d2;border-top:3px solid #14323b;border-radius:12px;padding:12px;margin:10px 0}
.line{border-top:1px solid #dde6e3;padding:10px 0}.line:first-of-type{border-top:0}
.line p{margin:3px 0 8px;color:#3d555d}
button,.file{font:inherit;font-weight:650;min-height:46px;padding:8px 14px;border-radius:10px;border:1.5px solid #14323b;background:#fff;color:#14323b;margin:3px 6px 3px 0;display:inline-block;cursor:pointer}
button[aria-pressed=true]{background:#14323b;color:#fff}
button[aria-pressed=true]::before{content:"\\2713  "}
input[type=text],textarea{font:inherit;min-height:46px;padding:8px 10px;border:1.5px solid #14323b;border-radius:10px;width:100%;max-width:360px;background:#fff;color:#14252b}
.bar{position:fixed;left:0;right:0;bottom:0;background:#fff;border-top:2px solid #14323b;padding:10px 14px;text-align:center}
.main{background:#14323b;color:#fff}
.quiet{color:#3d555d;font-size:15px}
@media(prefers-color-scheme:dark){body{background:#0d0b08;color:#f6d9ae}.tank,.bar,button,.file,input[type=text],textarea{background:#17130d;color:#f6d9ae;border-color:#e0a75c}button[aria-pressed=true],.main{background:#e0a75c;color:#17130d}.line p,.quiet{color:#c79b63}.line{border-color:#3a2f20}.care{background:#2a2010}}
`

/** Runs on the sitter's phone: plain and old-fashioned, so that any browser of ten years takes it. */
const SCRIPT = `
(function(){
var sheet=JSON.parse(document.getElementById('sheet').textContent);
var KEY='brinvo-sitter-'+sheet.sheetId, state={ticks:{},values:{},notes:{},pictures:[]}, kept=true;
try{var old=localStorage.getItem(KEY);if(old)state=JSON.parse(old)}catch(e){kept=false}
function keep(){try{localStorage.setItem(KEY,JSON.stringify(state))}catch(e){kept=false;say('This phone cannot keep what you tick: send it back before you close this page.')}count()}
function say(t){document.getElementById('said').textContent=t}
function count(){var n=Object.keys(state.ticks).length+Object.keys(state.values).length+Object.keys(state.notes).length+state.pictures.length;document.getElementById('n').textContent=n}
function el(tag,props,kids){var e=document.createElement(tag);for(var k in props||{}){if(k==='on')e.onclick=props.on;else if(k in e)e[k]=props[k];else e.setAttribute(k,props[k])}(kids||[]).forEach(function(c){e.appendChild(typeof c==='string'?document.createTextNode(c):c)});return e}
function choice(key,line,vessel,options){var row=el('div');options.forEach(function(o){var b=el('button',{type:'button',textContent:o[1]});function show(){b.setAttribute('aria-pressed',state.ticks[key]&&state.ticks[key].answer===o[0]?'true':'false')}
b.onclick=function(){if(state.ticks[key]&&state.ticks[key].answer===o[0])delete state.ticks[key];else state.ticks[key]={vesselId:vessel.id,kind:line.kind,title:line.title,answer:o[0],at:new Date().toISOString()};say(state.ticks[key]&&o[0]==='wrong'?'Call '+(sheet.call||'the keeper')+' now, and write below what you see.':'');keep();Array.prototype.forEach.call(row.children,function(c){c.show()})};b.show=show;show();row.appendChild(b)});return row}
var root=document.getElementById('days');
sheet.days.forEach(function(day){
root.appendChild(el('h2',{textContent:day.label}));
day.vessels.forEach(function(vessel){
var box=el('section',{className:'tank'},[el('h3',{textContent:vessel.name})]);
vessel.lines.forEach(function(line,i){
var key=day.day+' '+vessel.id+' '+i, row=el('div',{className:'line'},[el('strong',{textContent:line.title})]);
if(line.detail)row.appendChild(el('p',{textContent:line.detail}));
if(line.analyte){var input=el('input',{type:'text',inputMode:'decimal','aria-label':line.title+' in '+vessel.name,placeholder:line.unit,value:state.values[key]?state.values[key].text:''});
input.oninput=function(){var t=input.value.replace(',','.').trim();if(t===''){delete state.values[key]}else if(isNaN(Number(t))){say('A number, please: '+line.title);return}else state.values[key]={vesselId:vessel.id,analyte:line.analyte,unit:line.unit,value:Number(t),text:input.value,at:new Date().toISOString()};say('');keep()};
row.appendChild(input);row.appendChild(el('span',{className:'quiet',textContent:' '+line.unit}))}
else if(line.kind==='feed')row.appendChild(choice(key,line,vessel,[['took','Fed, they ate'],['tried','Fed, some ate'],['ignored','Fed, nothing eaten']]));
else if(line.kind==='look')row.appendChild(choice(key,line,vessel,[['well','All there and well'],['wrong','Something is wrong']]));
else row.appendChild(choice(key,line,vessel,[[undefined,'Done']]));
box.appendChild(row)});
var nkey=day.day+' '+vessel.id, area=el('textarea',{rows:2,'aria-label':'Note for '+vessel.name,placeholder:'Anything you saw',value:state.notes[nkey]?state.notes[nkey].text:''});
area.oninput=function(){if(area.value.trim()==='')delete state.notes[nkey];else state.notes[nkey]={vesselId:vessel.id,text:area.value,at:new Date().toISOString()};keep()};
var pick=el('input',{type:'file',accept:'image/*',style:'display:none'}), label=el('label',{className:'file'},['A picture',pick]), shown=el('span',{className:'quiet'});
function pics(){var n=state.pictures.filter(function(p){return p.day===day.day&&p.vesselId===vessel.id}).length;shown.textContent=n?n+' kept':''}
pick.onchange=function(){var f=pick.files[0];pick.value='';if(!f)return;var img=new Image(),url=URL.createObjectURL(f);img.onload=function(){var s=Math.min(1,1200/Math.max(img.width,img.height)),c=document.createElement('canvas');c.width=Math.round(img.width*s);c.height=Math.round(img.height*s);c.getContext('2d').drawImage(img,0,0,c.width,c.height);URL.revokeObjectURL(url);state.pictures.push({day:day.day,vesselId:vessel.id,width:c.width,height:c.height,data:c.toDataURL('image/jpeg',0.8),at:new Date().toISOString()});pics();keep()};img.onerror=function(){say('That is no picture this phone can read.')};img.src=url};
pics();box.appendChild(el('div',{className:'line'},[area,el('div',{},[label,shown])]));
root.appendChild(box)})});
document.getElementById('send').onclick=function(){
function list(o){return Object.keys(o).map(function(k){var v={};for(var n in o[k])if(n!=='text'||o[k].analyte===undefined)v[n]=o[k][n];return v})}
var out={format:sheet.format,version:sheet.version,sheetId:sheet.sheetId,ticks:list(state.ticks),readings:list(state.values),notes:list(state.notes),pictures:state.pictures.map(function(p){return{vesselId:p.vesselId,width:p.width,height:p.height,data:p.data,at:p.at}})};
var blob=new Blob([JSON.stringify(out)],{type:'application/json'}), name='sitter-answer.json';
try{var file=new File([blob],name,{type:'application/json'});if(navigator.canShare&&navigator.canShare({files:[file]})){navigator.share({files:[file]}).catch(function(){});return}}catch(e){}
var a=el('a',{href:URL.createObjectURL(blob),download:name});document.body.appendChild(a);a.click();a.remove();say('sitter-answer.json is in your downloads: send it to the keeper.')};
if(!kept)say('This phone cannot keep what you tick: send it back before you close this page.');
count();
})();
`

/** Text that may stand within a script element: nothing in it closes one. */
const embedded = (value: unknown): string => JSON.stringify(value).replaceAll('<', '\\u003c')
const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;')

/** The whole page as one text: no address in it leads anywhere. */
export function sitterHtml(sheet: SitterSheet): string {
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'; img-src data: blob:">
<title>${escaped(sheet.title)}</title><style>${STYLE}</style></head>
<body><main><h1>${escaped(sheet.title)}</h1>
<p class="care"><strong>You feed, look, top up and write down. You dose nothing, mix nothing and move nothing.</strong> Gasping fish, a cloud in the water, a fish on its side, water on the floor: more air, no food, and call <strong>${escaped(sheet.call === '' ? 'the keeper' : sheet.call)}</strong> at once.</p>
<p class="quiet">A net, bucket and towel stay with their own tank; wash your hands before the next one. What you tick stays on this phone until you send it back.</p>
<noscript><p class="care">Nothing can be ticked here: open this file in the phone’s browser.</p></noscript>
<div id="days"></div></main>
<div class="bar"><button id="send" class="main" type="button">Send back (<span id="n">0</span>)</button><div id="said" class="quiet" role="status"></div></div>
<script type="application/json" id="sheet">${embedded({ ...sheet, format: SITTER_FORMAT, version: SITTER_VERSION })}</script>
<script>${SCRIPT}</script></body></html>
`
}
