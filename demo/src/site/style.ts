/** The observatory's own look: ink, brass and paper. */
export const STYLE = `
*{box-sizing:border-box}
body{margin:0;background:#f7f1e3;color:#1d2030;font:17px/1.55 Georgia,"DejaVu Serif",serif}
a{color:#7a3b12}
h1{font-size:34px;line-height:1.2;margin:0 0 12px}
h2{font-size:20px;margin:24px 0 6px}
.top{display:flex;justify-content:space-between;align-items:center;padding:16px 32px;background:#12162b;color:#f3e6c4}
.top a{color:inherit;text-decoration:none}
.brand{font-size:24px;letter-spacing:.04em}
.brand span{display:block;font-size:12px;letter-spacing:.3em;text-transform:uppercase;color:#c9a45c}
nav a{font-size:16px;border-bottom:1px solid #c9a45c;padding:6px 0}
main{max-width:1040px;margin:0 auto;padding:32px}
main.narrow{max-width:620px}
.lead{font-size:19px;color:#454a61}
.button{display:inline-block;background:#b5651d;color:#fff;text-decoration:none;padding:14px 26px;border:0;border-radius:2px;font:inherit;cursor:pointer}
.button:hover{background:#96500f}
.button.quiet{background:none;color:#7a3b12;border:1px solid #7a3b12}
.hero{position:relative;color:#fbf3dd;min-height:420px;display:flex;align-items:flex-end;overflow:hidden;background:#08161c}
.hero-sky,.hero-sky svg{position:absolute;inset:0;width:100%;height:100%}
.hero-text{position:relative;padding:32px;max-width:620px}
.hero-text h1{font-size:42px}
.three{display:grid;grid-template-columns:repeat(3,1fr);gap:32px;margin-top:16px}
.next{border-top:1px solid #d9cba8;margin-top:32px}
.month-picker{display:flex;align-items:center;justify-content:center;gap:14px;margin:24px 0;padding:10px;border-top:1px solid #d9cba8;border-bottom:1px solid #d9cba8}
.month-name{min-width:130px;text-align:center;font-size:19px}
.arrow{background:none;border:0;padding:0;margin:0;width:14px;height:16px;line-height:16px;font-size:18px;color:#7a3b12;cursor:pointer}
.nights{list-style:none;margin:0;padding:0;display:grid;grid-template-columns:repeat(2,1fr);gap:28px}
.night{background:#fffaf0;border:1px solid #e3d6b6}
.night[hidden]{display:none}
.night-picture{height:200px;overflow:hidden;cursor:pointer}
.night-picture svg,.night-banner svg{display:block;width:100%;height:100%}
.night-picture:hover svg{opacity:.88}
.night-text{padding:16px 20px}
.night-text h2{margin:0 0 6px}
.night-text p{margin:0 0 6px}
.night-date{font-size:14px;letter-spacing:.06em;text-transform:uppercase;color:#8a6a2b}
.night-price{color:#454a61}
.night-banner{height:280px;overflow:hidden;margin:12px 0 24px}
.columns{display:grid;grid-template-columns:2fr 1fr;gap:40px}
.buy{background:#fffaf0;border:1px solid #e3d6b6;padding:20px;align-self:start}
.price{font-size:32px;margin:4px 0}
.price span{font-size:16px;color:#454a61}
.plain{padding-left:20px}
.back-link{font-size:15px}
form label{display:block;margin:16px 0 4px}
input,select,textarea{width:100%;padding:10px 12px;border:1px solid #a99b78;border-radius:2px;background:#fffdf7;font:inherit}
form .button{margin-top:24px}
.top{flex-wrap:wrap;gap:10px 24px}
nav{display:flex;flex-wrap:wrap;gap:4px 20px}
.find{display:flex;gap:6px}
.find input{width:130px;padding:5px 8px;font-size:15px;background:#f3e6c4}
.find button,.filters button,.apply,.turn,.stepper button{font:inherit;font-size:15px;padding:6px 12px;border:1px solid #c9a45c;background:none;color:inherit;border-radius:2px;cursor:pointer}
.filters{display:flex;flex-wrap:wrap;gap:8px;margin:0 0 24px}
.filters button[aria-pressed=true]{background:#1d2030;color:#f3e6c4}
.weather{margin-top:24px;padding:14px 20px;background:#e9e2cf;border-left:4px solid #2b3566}
.weather h2{margin:0}
.weather p{margin:4px 0 0}
.gallery{position:relative;height:280px;margin:12px 0 24px;background:#10151f}
.gallery figure{margin:0;height:100%}
.gallery svg,.item-picture svg,.item-banner svg,.article-picture svg,.moor-map svg{display:block;width:100%;height:100%}
.gallery figure[hidden],.item[hidden]{display:none}
.turn{position:absolute;top:50%;width:44px;height:44px;margin-top:-22px;background:#12162bcc;color:#f3e6c4;font-size:22px;line-height:1;padding:0}
.turn.back{left:12px}.turn.on{right:12px}
.guarantee,.question{border-top:1px solid #d9cba8;padding:12px 0}
summary{cursor:pointer}
.where{margin:12px 0 0;font-size:14px;letter-spacing:.06em;text-transform:uppercase;color:#8a6a2b}
.steppers{display:flex;gap:32px;flex-wrap:wrap;margin:16px 0}
.stepper{display:flex;align-items:center;gap:10px}
.stepper output{min-width:24px;text-align:center}
.stepper button{width:40px;height:40px;padding:0}
.seat-map{margin:8px 0 16px}
.dome,.zone-name{background:#e3d6b6;border-radius:4px;text-align:center;cursor:pointer;padding:10px}
.dome{width:60%;margin:0 auto 12px;border-radius:60px 60px 4px 4px;padding:18px}
.dome:hover,.zone-name:hover{background:#d9c692}
.zone{border:1px solid #e3d6b6;margin-bottom:8px;padding:8px}
.row{display:flex;justify-content:space-between;padding-top:8px}
.seat{width:30px;height:30px;border:1px solid #7a5a2c;border-radius:6px 6px 2px 2px;background:#fffaf0;cursor:pointer}
.seat[disabled]{background:#cfc5ab;border-color:#cfc5ab;cursor:default}
.seat[aria-pressed=true]{background:#b5651d}
.total{font-size:20px}
.problem{margin:2px 0 0;min-height:22px;font-size:14px;line-height:22px;color:#a3200d;visibility:hidden}
.problem.shown{visibility:visible}
.field label{margin:6px 0 4px}
.promo{display:flex;gap:12px;align-items:flex-end;margin-bottom:20px}
.promo .field{flex:1}
.apply{padding:11px 18px}
.two{display:grid;grid-template-columns:1fr 1fr;gap:16px}
.items,.articles,.found{list-style:none;margin:0;padding:0}
.item,.articles li{display:grid;grid-template-columns:220px 1fr;gap:24px;margin-bottom:20px;background:#fffaf0;border:1px solid #e3d6b6}
.item h2,.articles h2{margin:14px 0 4px}
.item p,.articles p{margin:0 0 6px;padding-right:16px}
.item-picture,.article-picture{height:150px;overflow:hidden;cursor:pointer}
.item-picture:hover,.article-picture:hover{opacity:.88}
.item-banner{height:340px;overflow:hidden;margin:12px 0 24px}
.item-page{max-width:760px}
.facts{display:grid;grid-template-columns:130px 1fr;gap:6px 16px}
.facts dt{color:#8a6a2b}.facts dd{margin:0}
.article p{margin:0 0 18px}
.article h2{margin-top:32px}
.moor-map{position:relative;height:220px;cursor:pointer}
.pin{position:absolute;left:50%;top:45%;background:#b5651d;color:#fff;padding:2px 8px;border-radius:2px;font-size:14px}
.foot a{color:#e3d6b6}
.foot{padding:24px 32px;background:#12162b;color:#b9ad8c;font-size:14px;margin-top:48px}
.foot p{margin:0 0 4px}
@media (max-width:900px){.three{grid-template-columns:1fr;gap:8px}}
@media (max-width:600px){body{font-size:16px}.top{padding:12px 16px}main{padding:16px}.hero-text{padding:16px}.hero-text h1,h1{font-size:28px}.nights{grid-template-columns:1fr}.night-picture{height:170px}.columns{grid-template-columns:1fr;gap:16px}.night-banner{height:180px}.arrow{width:9px;height:10px;line-height:10px;font-size:13px}.month-picker{gap:22px}.gallery{height:200px}nav{gap:2px 14px}nav a{font-size:15px}.item,.articles li{grid-template-columns:110px 1fr;gap:14px}.item-picture,.article-picture{height:100%;min-height:120px}.item-banner{height:430px}.seat{width:26px;height:26px}.find input{width:100px}}
`
