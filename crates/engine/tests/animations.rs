//! Animations and transitions, as scripts see what they come to.

mod page;

use page::check;

/// Each row as Chromium gives it (Web Animations, CSS Transitions, CSS Animations).
#[test]
fn styles_on_the_way() {
    check(&[
        (
            "const e = document.createElement('p'); document.body.append(e); const a = e.animate({ opacity: [0, 1], width: ['10px', '110px'] }, { duration: 1000 }); a.pause(); a.currentTime = 300; const s = getComputedStyle(e); const out = [s.opacity, s.width, e.getBoundingClientRect().width, a.playState, a.effect.getComputedTiming().progress]; a.cancel(); return [...out, getComputedStyle(e).opacity].join('|')",
            "0.3|40px|40|paused|0.3|1",
        ),
        (
            "const e = document.createElement('p'); document.body.append(e); const a = e.animate([{ color: 'red' }, { color: 'blue', offset: 0.25 }, { color: 'lime' }], { duration: 1000, fill: 'both', iterations: 2, direction: 'alternate' }); a.pause(); return [0, 125, 250, 1000, 1875, 3000].map((t) => { a.currentTime = t; return getComputedStyle(e).color }).join('|')",
            "rgb(255, 0, 0)|rgb(128, 0, 128)|rgb(0, 0, 255)|rgb(0, 255, 0)|rgb(128, 0, 128)|rgb(255, 0, 0)",
        ),
        (
            "const e = document.createElement('p'); document.body.append(e); e.style.cssText = 'left: 0px; position: relative'; getComputedStyle(e).left; e.style.transition = 'left 100s linear -25s'; e.style.left = '80px'; const [t] = e.getAnimations(); return [getComputedStyle(e).left, t.constructor.name, t.transitionProperty, e.style.left].join('|')",
            "20px|CSSTransition|left|80px",
        ),
        (
            "const s = document.createElement('style'); s.textContent = '@keyframes fire { from { margin-left: 0px } 50% { margin-left: 40px } to { margin-left: 100px } } p.on { animation: fire 100s linear -75s }'; const e = document.createElement('p'); document.body.append(s, e); e.className = 'on'; const before = getComputedStyle(e).marginLeft; const [a] = e.getAnimations(); e.className = ''; const out = [before, a.animationName, a.constructor.name, getComputedStyle(e).marginLeft, e.getAnimations().length].join('|'); s.remove(); return out",
            "70px|fire|CSSAnimation|0px|0",
        ),
        (
            "const e = document.createElement('p'); document.body.append(e); e.style.width = '20px'; const a = e.animate({ width: '50px' }, { duration: 1000, fill: 'forwards', composite: 'add', easing: 'steps(2)' }); a.pause(); return [0, 400, 600, 1000].map((t) => { a.currentTime = t; return getComputedStyle(e).width }).join('|')",
            "20px|20px|45px|70px",
        ),
        (
            "const e = document.createElement('p'); document.body.append(e); e.style.setProperty('opacity', '0.5', 'important'); const a = e.animate({ opacity: [0, 0] }, 1000); a.pause(); return getComputedStyle(e).opacity",
            "0.5",
        ),
        (
            "const e = document.createElement('p'); const c = document.createElement('b'); e.append(c); document.body.append(e); const a = e.animate({ color: ['rgb(0, 0, 0)', 'rgb(200, 0, 0)'], display: ['none', 'flex'] }, 1000); a.pause(); a.currentTime = 500; const out = [getComputedStyle(c).color, getComputedStyle(e).display]; a.commitStyles(); return [...out, e.style.color].join('|')",
            "rgb(100, 0, 0)|flex|rgb(100, 0, 0)",
        ),
        (
            "const e = document.createElement('p'); document.body.append(e); const a = e.animate({ transform: ['none', 'rotate(90deg) scale(3)'] }, 1000); a.pause(); a.currentTime = 500; return getComputedStyle(e).transform",
            "matrix(1.41421, 1.41421, -1.41421, 1.41421, 0, 0)",
        ),
        (
            "const e = document.createElement('p'); document.body.append(e); e.style.setProperty('opacity', '0.2', 'important'); getComputedStyle(e).opacity; e.style.transition = 'opacity 100s linear -50s'; e.style.setProperty('opacity', '0.6', 'important'); return getComputedStyle(e).opacity",
            "0.4",
        ),
        (
            "const s = document.createElement('style'); s.textContent = '@keyframes glow { to { opacity: 0 } } @media (min-width: 1px) { @keyframes glow { to { opacity: 0.5 } } } p { animation: 100s linear -50s glow }'; const e = document.createElement('p'); document.body.append(s, e); const out = getComputedStyle(e).opacity; s.remove(); return out",
            "0.75",
        ),
        (
            "const e = document.createElement('p'); const c = document.createElement('b'); e.append(c); document.body.append(e); const a = e.animate({ fontSize: ['10px', '30px'] }, 1000); a.pause(); c.style.width = '2em'; c.style.display = 'block'; const out = []; for (const t of [0, 500]) { a.currentTime = t; out.push(getComputedStyle(c).width) } a.effect.target = c; out.push(getComputedStyle(e).fontSize, getComputedStyle(c).fontSize); return out.join('|')",
            "20px|40px|16px|20px",
        ),
        (
            "const e = document.createElement('p'); document.body.append(e); const a = e.animate([{ color: 'red; left: 1px' }, { color: 'nonsense' }], 1000); a.pause(); return getComputedStyle(e).color",
            "rgb(0, 0, 0)",
        ),
    ]);
}
