//! Dispatch, default actions and focus, as scripts see them.

mod page;

use page::check;

#[test]
fn events_take_their_path() {
    check(&[
        (
            "document.body.innerHTML = '<p><b></b></p>'; const seen = []; const p = document.querySelector('p'); \
             for (const t of [window, document, p]) { t.addEventListener('x', () => seen.push('c'), true); t.addEventListener('x', () => seen.push('b')); } \
             document.querySelector('b').dispatchEvent(new Event('x', { bubbles: true })); return seen.join('')",
            "cccbbb",
        ),
        (
            "const d = document.createElement('div'); let n = 0; d.addEventListener('x', () => n++, { once: true }); d.dispatchEvent(new Event('x')); d.dispatchEvent(new Event('x')); return n",
            "1",
        ),
        (
            "const d = document.createElement('div'); d.onclick = () => false; const e = new MouseEvent('click', { cancelable: true }); return d.dispatchEvent(e)",
            "false",
        ),
        (
            "document.body.innerHTML = '<button onclick=\"this.title=1\">x</button>'; const b = document.body.firstChild; b.setAttribute('onclick', 'this.title = 2'); b.click(); return b.title",
            "2",
        ),
        (
            "document.body.innerHTML = '<input type=checkbox>'; const i = document.body.firstChild; const seen = []; i.oninput = () => seen.push('i' + i.checked); i.onchange = () => seen.push('c'); i.click(); return seen + ''",
            "itrue,c",
        ),
        (
            "document.body.innerHTML = '<input type=checkbox>'; const i = document.body.firstChild; i.onclick = (e) => e.preventDefault(); i.click(); return i.checked",
            "false",
        ),
        (
            "document.body.innerHTML = '<label>x<input type=checkbox></label>'; document.querySelector('label').click(); return document.querySelector('input').checked",
            "true",
        ),
        (
            "document.body.innerHTML = '<button disabled>x</button>'; let n = 0; document.body.firstChild.onclick = () => n++; document.body.firstChild.click(); return n",
            "0",
        ),
        (
            "document.body.innerHTML = '<form><input name=a value=1><button>go</button></form>'; let out; document.forms[0].onsubmit = (e) => { out = [...new FormData(e.target)] + e.submitter.localName }; document.querySelector('button').click(); return out",
            "a,1button",
        ),
        (
            "document.body.innerHTML = '<form><input required><button>go</button></form>'; let n = 0; document.forms[0].onsubmit = () => n++; document.querySelector('button').click(); return n + document.activeElement.localName",
            "0input",
        ),
        (
            "document.body.innerHTML = '<input id=a><input id=b>'; const [a, b] = document.querySelectorAll('input'); const seen = []; for (const t of ['focus', 'blur', 'focusin', 'focusout']) document.body.addEventListener(t, (e) => seen.push(t + e.target.id), true); a.focus(); b.focus(); return seen + ''",
            "focusa,focusina,blura,focusouta,focusb,focusinb",
        ),
    ]);
}

#[test]
fn dispatch_keeps_the_rules() {
    check(&[
        (
            "const d = document.createElement('p'); const out = []; d.addEventListener('x', (e) => { out.push(1); e.stopImmediatePropagation() }); d.addEventListener('x', () => out.push(2)); d.dispatchEvent(new Event('x')); return out.join()",
            "1",
        ),
        (
            "document.body.innerHTML = '<p><b></b></p>'; const out = []; document.querySelector('p').addEventListener('x', () => out.push('p')); document.querySelector('b').addEventListener('x', (e) => { out.push('b'); e.stopPropagation() }); document.querySelector('b').dispatchEvent(new Event('x', { bubbles: true })); return out.join()",
            "b",
        ),
        (
            "const d = document.createElement('p'); let n = 0; const f = () => n++; d.addEventListener('x', f); d.addEventListener('x', f); d.addEventListener('x', f, true); d.dispatchEvent(new Event('x')); return n",
            "2",
        ),
        (
            "const d = document.createElement('p'); let self; d.addEventListener('x', { handleEvent(e) { self = this.a + e.type }, a: 1 }); d.dispatchEvent(new Event('x')); return self",
            "1x",
        ),
        (
            "const d = document.createElement('p'); const c = new AbortController(); let n = 0; d.addEventListener('x', () => n++, { signal: c.signal }); d.dispatchEvent(new Event('x')); c.abort(); d.dispatchEvent(new Event('x')); return n",
            "1",
        ),
        (
            "const d = document.createElement('p'); d.addEventListener('x', (e) => e.preventDefault(), { passive: true }); return d.dispatchEvent(new Event('x', { cancelable: true }))",
            "true",
        ),
        (
            "const d = document.createElement('p'); d.addEventListener('x', (e) => e.preventDefault()); return d.dispatchEvent(new Event('x', { cancelable: true })) + '' + d.dispatchEvent(new Event('x'))",
            "falsetrue",
        ),
        (
            "const e = new Event('x'); const d = document.createElement('p'); const out = []; d.addEventListener('x', (e) => out.push(e.eventPhase, e.target === d, e.currentTarget === d, e.composedPath().length)); d.dispatchEvent(e); return out.join() + e.eventPhase + e.currentTarget",
            "2,true,true,10null",
        ),
        (
            "const d = document.createElement('p'); let n = 0; d.addEventListener('x', () => { n++; d.addEventListener('x', () => n++) }); d.dispatchEvent(new Event('x')); return n",
            "1",
        ),
        (
            "const d = document.createElement('p'); const out = []; const late = () => out.push('late'); d.addEventListener('x', () => { out.push('first'); d.removeEventListener('x', late); d.addEventListener('x', late) }); d.addEventListener('x', late); d.dispatchEvent(new Event('x')); d.dispatchEvent(new Event('x')); return out.join()",
            "first,first",
        ),
        (
            "const d = document.createElement('p'); const out = []; const last = () => out.push('last'); d.addEventListener('y', () => d.removeEventListener('x', last)); d.addEventListener('x', () => d.dispatchEvent(new Event('y')), { once: true }); d.addEventListener('x', last, true); d.addEventListener('x', last); d.dispatchEvent(new Event('x')); return out.join()",
            "last",
        ),
        (
            "const d = document.createElement('p'); let n = 0; const f = () => { if (n++ < 3) d.dispatchEvent(new Event('x')) }; d.addEventListener('x', f, { once: true }); d.dispatchEvent(new Event('x')); return n",
            "1",
        ),
        (
            "const d = document.createElement('p'); const out = []; const f = (e) => out.push(e.type); for (const t of ['a', 'b', 'c']) d.addEventListener(t, f); d.removeEventListener('b', f); d.removeEventListener('c', f, true); for (const t of ['a', 'b', 'c']) d.dispatchEvent(new Event(t)); return out.join()",
            "a,c",
        ),
        (
            "const d = document.createElement('p'); d.addEventListener('x', (e) => { try { d.dispatchEvent(e) } catch (err) { d.title = err.name } }); d.dispatchEvent(new Event('x')); return d.title",
            "InvalidStateError",
        ),
        (
            "const d = document.createElement('p'); const out = []; d.onclick = () => out.push('a'); d.addEventListener('click', () => out.push('b')); d.onclick = () => out.push('c'); d.click(); return out.join()",
            "c,b",
        ),
        (
            "const c = new CustomEvent('x', { detail: { a: 1 }, bubbles: true }); return c.detail.a + '' + c.bubbles + c.cancelable + c.isTrusted",
            "1truefalsefalse",
        ),
        (
            "const k = new KeyboardEvent('keydown', { key: 'a', ctrlKey: true }); return k.key + k.ctrlKey + k.shiftKey + k.getModifierState('Control')",
            "atruefalsetrue",
        ),
        ("const t = new EventTarget(); let n = 0; t.addEventListener('x', () => n++); t.dispatchEvent(new Event('x')); return n", "1"),
        (
            "let seen; const f = (e) => { seen = e.message + (e.error instanceof Error); e.preventDefault() }; window.addEventListener('error', f, { once: true }); reportError(new Error('hot')); return /hot/.test(seen) + seen.slice(-4)",
            "truetrue",
        ),
        ("return new Event('x').timeStamp >= 0 && typeof new Event('x').timeStamp === 'number'", "true"),
        (
            "return [window, document, visualViewport, screen.orientation, new AbortController().signal].map((t) => typeof t.addEventListener).join()",
            "function,function,function,function,function",
        ),
        ("try { new Event() } catch (e) { return e.name }", "TypeError"),
        ("try { document.body.dispatchEvent({}) } catch (e) { return e.name }", "TypeError"),
    ]);
}

#[test]
fn clicks_do_what_they_do() {
    check(&[
        (
            "document.body.innerHTML = '<form><input type=reset><input name=a value=1></form>'; const a = document.forms[0].a; a.value = 2; document.querySelector('[type=reset]').click(); return a.value",
            "1",
        ),
        (
            "document.body.innerHTML = '<form id=f></form><button form=f>x</button>'; let n = 0; document.forms[0].onsubmit = (e) => { n++; e.preventDefault() }; document.querySelector('button').click(); return n",
            "1",
        ),
        (
            "document.body.innerHTML = '<form><button type=button>x</button></form>'; let n = 0; document.forms[0].onsubmit = () => { n++ }; document.querySelector('button').click(); return n",
            "0",
        ),
        (
            "document.body.innerHTML = '<fieldset disabled><button>x</button></fieldset>'; let n = 0; document.querySelector('button').onclick = () => n++; document.querySelector('button').click(); return n",
            "0",
        ),
        (
            "document.body.innerHTML = '<input type=radio name=a><input type=radio name=a checked>'; const [x, y] = document.querySelectorAll('input'); const out = []; x.onchange = () => out.push('x'); y.onchange = () => out.push('y'); x.click(); x.click(); return out.join() + x.checked + y.checked",
            "xtruefalse",
        ),
        (
            "document.body.innerHTML = '<input type=radio name=a><input type=radio name=a checked>'; const [x, y] = document.querySelectorAll('input'); x.addEventListener('click', (e) => e.preventDefault()); x.click(); return x.checked + '' + y.checked",
            "falsetrue",
        ),
        (
            "document.body.innerHTML = '<label for=i>x</label><input id=i type=checkbox>'; document.querySelector('label').click(); return document.querySelector('input').checked",
            "true",
        ),
        (
            "document.body.innerHTML = '<label>x<input type=checkbox></label>'; let n = 0; document.querySelector('label').onclick = () => n++; document.querySelector('input').click(); return n + '' + document.querySelector('input').checked",
            "1true",
        ),
        (
            "document.body.innerHTML = '<details><summary>s</summary>t</details>'; document.querySelector('summary').click(); return document.querySelector('details').open",
            "true",
        ),
        (
            "document.body.innerHTML = '<input type=checkbox>'; const i = document.querySelector('input'); i.indeterminate = true; i.click(); return i.indeterminate + '' + i.checked",
            "falsetrue",
        ),
        (
            "document.body.innerHTML = '<button><b>x</b></button>'; let t; document.querySelector('button').onclick = (e) => { t = e.target.localName + e.currentTarget.localName }; document.querySelector('b').click(); return t",
            "bbutton",
        ),
    ]);
}

#[test]
fn focus_moves() {
    check(&[
        (
            "document.body.innerHTML = '<input><p>x</p>'; document.querySelector('input').focus(); document.querySelector('p').focus(); return document.activeElement.localName",
            "input",
        ),
        (
            "document.body.innerHTML = '<p tabindex=-1>x</p>'; document.querySelector('p').focus(); const a = document.activeElement.localName; document.querySelector('p').blur(); return a + document.activeElement.localName",
            "pbody",
        ),
        (
            "const f = document.createDocumentFragment(), p = document.createElement('p'); p.innerHTML = '<input><input autofocus id=b>'; f.append(p); const before = document.activeElement.localName; document.body.append(f); return before + document.activeElement.id",
            "bodyb",
        ),
        (
            "document.body.innerHTML = '<input disabled>'; document.querySelector('input').focus(); return document.activeElement.localName",
            "body",
        ),
        (
            "document.body.innerHTML = '<input>'; const i = document.querySelector('input'); i.focus(); i.remove(); return document.activeElement.localName",
            "body",
        ),
        (
            "document.body.innerHTML = '<a>x</a><a href=#>y</a>'; document.querySelector('a').focus(); const n = document.activeElement.localName; document.querySelector('[href]').focus(); return n + document.activeElement.localName",
            "bodya",
        ),
        (
            "document.body.innerHTML = '<input id=a><input id=b>'; const [a, b] = document.querySelectorAll('input'); let r; b.onfocus = (e) => { r = e.relatedTarget.id }; a.focus(); b.focus(); return r + a.matches(':focus') + b.matches(':focus')",
            "afalsetrue",
        ),
    ]);
}

#[test]
fn handlers_that_stand_in_markup() {
    check(&[
        (
            "document.body.innerHTML = '<p onclick=\"window.seen = this.localName + event.type\"></p>'; document.querySelector('p').click(); return seen",
            "pclick",
        ),
        (
            "document.body.innerHTML = '<p onclick=\"seen.push(1)\"></p>'; window.seen = []; const p = document.querySelector('p'); p.addEventListener('click', () => seen.push(2)); p.click(); return seen.join()",
            "1,2",
        ),
        (
            "document.body.innerHTML = '<p onunheard=\"seen.push(1)\"></p>'; window.seen = []; const p = document.querySelector('p'); p.addEventListener('unheard', () => seen.push(2)); p.addEventListener('unheard', () => seen.push(3)); p.dispatchEvent(new Event('unheard')); return seen.join()",
            "2,3",
        ),
        (
            "document.body.insertAdjacentHTML('beforeend', '<a onclick=\"return false\">x</a>'); const a = document.querySelector('a'); return typeof a.onclick + a.dispatchEvent(new MouseEvent('click', { cancelable: true }))",
            "functionfalse",
        ),
        (
            "const t = document.createElement('template'); t.innerHTML = '<b onfocus=\"window.seen = 9\" tabindex=0></b>'; document.body.append(t.content.cloneNode(true)); document.querySelector('b').focus(); return seen",
            "9",
        ),
        (
            "document.body.innerHTML = '<p onclick=\"throw 1\"></p>'; const p = document.querySelector('p'); p.onclick = () => { window.seen = 'own' }; p.click(); return seen",
            "own",
        ),
        (
            "document.body.append(...new DOMParser().parseFromString('<i onclick=\"window.seen = 3\"></i>', 'text/html').body.children); document.querySelector('i').click(); return seen",
            "3",
        ),
    ]);
}
