/** How the player of a file looks: the colours of the product. */
export const STYLE = `
* { box-sizing: border-box }
html, body { height: 100%; margin: 0 }
body { display: flex; background: #F5F6F2; color: #18211D; font: 14px/1.45 system-ui, sans-serif }
main { flex: 1; min-width: 0; display: flex; flex-direction: column; padding: 12px 16px; gap: 6px }
h1 { margin: 0; font-size: 16px }
header p, #title { margin: 0; color: #55615A; overflow: hidden; text-overflow: ellipsis; white-space: nowrap }
#holder { position: relative; flex: 1; min-height: 0; overflow: hidden; background: #D9DED6 }
#holder > p { padding: 16px }
#screen { position: absolute; top: 50%; left: 50%; overflow: hidden; background: #fff }
#screen iframe { display: block; border: 0 }
#screen canvas { position: absolute; inset: 0; z-index: 1 }
#line { position: relative; padding-top: 12px }
#line input { width: 100%; margin: 0; accent-color: #1F5C4D }
#marks { position: absolute; inset: 0 8px auto; height: 12px }
#marks i { position: absolute; top: 2px; width: 8px; height: 8px; margin-left: -4px; background: #A6452B; transform: rotate(45deg) }
#bar { display: flex; align-items: center; gap: 12px }
button, select { font: inherit; color: inherit; background: #fff; border: 1px solid #D9DED6; border-radius: 6px; padding: 4px 10px }
#play { width: 80px; background: #1F5C4D; color: #fff }
#time { font-variant-numeric: tabular-nums; min-width: 110px }
aside { width: 340px; overflow: auto; background: #fff; border-left: 1px solid #D9DED6 }
summary { padding: 8px 12px; font-weight: 600; border-bottom: 1px solid #D9DED6; cursor: pointer }
ol { list-style: none; margin: 0; padding: 0 }
aside button { display: flex; gap: 8px; width: 100%; text-align: left; border: 0; border-radius: 0; padding: 5px 12px; overflow-wrap: anywhere }
aside button:hover { background: #F6EEDC }
aside button > span:first-child { width: 44px; flex: none; text-align: right; color: #55615A; font-variant-numeric: tabular-nums }
.bad b { color: #A6452B }
pre { margin: 4px 0 0; white-space: pre-wrap; font-size: 12px }
`
