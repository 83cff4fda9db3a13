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
.foot{padding:24px 32px;background:#12162b;color:#b9ad8c;font-size:14px;margin-top:48px}
.foot p{margin:0 0 4px}
@media (max-width:900px){.three{grid-template-columns:1fr;gap:8px}}
@media (max-width:600px){body{font-size:16px}.top{padding:12px 16px}main{padding:16px}.hero-text{padding:16px}.hero-text h1,h1{font-size:28px}.nights{grid-template-columns:1fr}.night-picture{height:170px}.columns{grid-template-columns:1fr;gap:16px}.night-banner{height:180px}.arrow{width:9px;height:10px;line-height:10px;font-size:13px}.month-picker{gap:22px}}
`
