//! Nodes, elements, attributes, selectors, ranges and observers, as scripts see them.

mod page;

use page::check;

#[test]
fn nodes_and_attributes() {
    check(&[
        ("const d = document.createElement('DIV'); return d.tagName + d.localName + (d instanceof HTMLDivElement)", "DIVdivtrue"),
        (
            "document.body.innerHTML = '<p>a<b>c</b></p>'; return document.body.firstChild.childNodes.length + document.querySelector('b').parentNode.nodeName",
            "2P",
        ),
        ("const d = document.createElement('div'); d.append('x', document.createElement('i')); return d.outerHTML", "<div>x<i></i></div>"),
        (
            "const d = document.createElement('div'); d.className = 'a b'; d.classList.toggle('b'); d.classList.add('c'); return d.className",
            "a c",
        ),
        (
            "const d = document.createElement('div'); d.style.backgroundColor = 'red'; d.style.setProperty('--x', '1'); return d.getAttribute('style')",
            "background-color: red; --x: 1;",
        ),
        (
            "const d = document.createElement('div'); d.dataset.kilnId = 7; return d.outerHTML + ('kilnId' in d.dataset)",
            "<div data-kiln-id=\"7\"></div>true",
        ),
        (
            "const l = document.createElement('label'); l.htmlFor = 'x'; return ('htmlFor' in l) + l.outerHTML",
            "true<label for=\"x\"></label>",
        ),
        (
            "const b = document.createElement('button'); b.disabled = true; return b.outerHTML + b.type",
            "<button disabled=\"\"></button>submit",
        ),
        (
            "const t = document.createElement('template'); t.innerHTML = '<b>x</b>'; return t.content.firstChild.localName + t.childNodes.length",
            "b0",
        ),
        (
            "const s = document.createElementNS('http://www.w3.org/2000/svg', 'svg'); return s.tagName + (s instanceof SVGElement)",
            "svgtrue",
        ),
        ("try { document.body.appendChild(document.documentElement) } catch (e) { return e.name + e.code }", "HierarchyRequestError3"),
        ("try { document.querySelector('[') } catch (e) { return e.name }", "SyntaxError"),
        ("return Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set !== undefined", "true"),
        (
            "const d = document.createElement('p'); const c = d.children; d.append(document.createElement('i')); return c.length + c[0].localName + (c === d.children)",
            "1itrue",
        ),
        ("const a = document.createElement('a'); a.href = '/kilns?x=1'; return a.href + a.search", "http://stage.test/kilns?x=1?x=1"),
    ]);
}

#[test]
fn tree_changes() {
    check(&[
        (
            "const b = document.body; b.append('a', document.createElement('i')); b.prepend(document.createElement('p')); return b.innerHTML",
            "<p></p>a<i></i>",
        ),
        (
            "document.body.innerHTML = '<p></p>'; const p = document.body.firstChild; p.before('x'); p.after('y'); p.replaceWith('z'); return document.body.innerHTML",
            "xzy",
        ),
        (
            "document.body.innerHTML = '<i></i><b></b>'; document.body.replaceChildren('x', 'y'); return document.body.childNodes.length",
            "2",
        ),
        (
            "document.body.innerHTML = '<p>a</p>'; const p = document.body.firstChild; p.insertAdjacentHTML('afterend', '<b>x</b>'); p.insertAdjacentHTML('afterbegin', '<i>y</i>'); return document.body.innerHTML",
            "<p><i>y</i>a</p><b>x</b>",
        ),
        (
            "const d = document.createElement('div'); d.innerHTML = '<p>a<b>c</b></p>'; const k = d.firstChild.cloneNode(true); k.firstChild.data = 'z'; return d.innerHTML + k.outerHTML",
            "<p>a<b>c</b></p><p>z<b>c</b></p>",
        ),
        (
            "const d = document.createElement('p'); d.append('a', 'b', ''); d.normalize(); return d.childNodes.length + d.firstChild.data",
            "1ab",
        ),
        (
            "const t = document.createTextNode('kiln'); document.body.append(t); const r = t.splitText(2); return t.data + '|' + r.data + document.body.childNodes.length",
            "ki|ln2",
        ),
        (
            "const f = document.createDocumentFragment(); f.append('a', document.createElement('b')); document.body.append(f); return f.childNodes.length + document.body.innerHTML",
            "0a<b></b>",
        ),
        (
            "const p = document.createElement('p'); document.body.append(p); const c = p.isConnected; p.remove(); return c + '' + p.isConnected + p.parentNode",
            "truefalsenull",
        ),
        (
            "document.body.innerHTML = '<p><b></b></p>'; const p = document.body.firstChild; return p.contains(p.firstChild) + '' + p.contains(p) + p.firstChild.contains(p)",
            "truetruefalse",
        ),
        (
            "document.body.innerHTML = '<p></p><b></b>'; const [p, b] = document.body.children; return p.compareDocumentPosition(b) + ',' + b.compareDocumentPosition(p) + ',' + document.body.compareDocumentPosition(p)",
            "4,2,20",
        ),
        (
            "const p = document.createElement('p'); try { p.insertBefore(document.createElement('b'), document.body) } catch (e) { return e.name }",
            "NotFoundError",
        ),
        (
            "const p = document.createElement('p'); p.append('a'); try { p.removeChild(document.body) } catch (e) { return e.name }",
            "NotFoundError",
        ),
        (
            "const t = document.createElement('table'); t.innerHTML = '<tr><td>1<td>2'; return t.innerHTML + t.rows.length + t.rows[0].cells.length",
            "<tbody><tr><td>1</td><td>2</td></tr></tbody>12",
        ),
        (
            "document.body.innerHTML = '<p>a&amp;b<!--c--></p>'; const p = document.body.firstChild; return p.textContent + p.innerHTML + p.lastChild.nodeType",
            "a&ba&amp;b<!--c-->8",
        ),
        ("const p = document.createElement('p'); p.textContent = '<b>'; return p.innerHTML + p.firstChild.nodeName", "&lt;b&gt;#text"),
        ("document.body.innerHTML = '<p id=a></p>'; return document.getElementById('a').id + document.getElementById('b')", "anull"),
        (
            "document.body.innerHTML = '<i class=\"x y\"></i><b class=y></b>'; const c = document.getElementsByClassName('y'); const n = c.length; c[0].remove(); return n + ',' + c.length + c[0].localName",
            "2,1b",
        ),
        (
            "document.body.innerHTML = '<p></p><p></p>'; return [...document.body.getElementsByTagName('p')].length + document.body.childElementCount",
            "4",
        ),
        (
            "document.body.innerHTML = ' <p></p> <b></b> '; const p = document.querySelector('p'); return p.nextElementSibling.localName + (p.previousElementSibling === null) + p.nextSibling.nodeType",
            "btrue3",
        ),
    ]);
}

#[test]
fn attributes_in_all_their_ways() {
    check(&[
        (
            "const d = document.createElement('div'); d.setAttribute('Data-X', 1); return d.outerHTML + d.getAttribute('DATA-x')",
            "<div data-x=\"1\"></div>1",
        ),
        (
            "const d = document.createElement('div'); return [d.getAttribute('a'), d.hasAttribute('a'), d.toggleAttribute('a'), d.hasAttribute('a'), d.toggleAttribute('a', true), d.toggleAttribute('a')].join()",
            ",false,true,true,true,false",
        ),
        (
            "const d = document.createElement('div'); d.id = 'a'; d.title = 'b'; return [...d.attributes].map((a) => a.name + '=' + a.value).join() + d.attributes.length + d.getAttributeNames()",
            "id=a,title=b2id,title",
        ),
        ("const d = document.createElement('div'); try { d.setAttribute('a b', '') } catch (e) { return e.name }", "InvalidCharacterError"),
        (
            "const s = document.createElementNS('http://www.w3.org/2000/svg', 'svg'); s.setAttribute('viewBox', '0 0 1 1'); return s.outerHTML",
            "<svg viewBox=\"0 0 1 1\"></svg>",
        ),
        (
            "const u = document.createElementNS('http://www.w3.org/2000/svg', 'use'); u.setAttributeNS('http://www.w3.org/1999/xlink', 'xlink:href', '#a'); return u.getAttribute('xlink:href') + u.getAttributeNS('http://www.w3.org/1999/xlink', 'href') + u.outerHTML",
            "#a#a<use xlink:href=\"#a\"></use>",
        ),
        (
            "const d = document.createElement('div'); d.hidden = true; d.tabIndex = 3; d.lang = 'en'; d.dir = 'RTL'; return d.outerHTML + d.dir",
            "<div hidden=\"\" tabindex=\"3\" lang=\"en\" dir=\"RTL\"></div>rtl",
        ),
        (
            "const i = document.createElement('input'); i.maxLength = 3; i.readOnly = true; i.type = 'bogus'; return i.outerHTML + i.type + i.maxLength + i.minLength",
            "<input maxlength=\"3\" readonly=\"\" type=\"bogus\">text3-1",
        ),
        (
            "const d = document.createElement('div'); d.ariaLabel = 'x'; d.ariaExpanded = 'true'; return d.outerHTML + d.ariaHidden",
            "<div aria-label=\"x\" aria-expanded=\"true\"></div>null",
        ),
        (
            "const d = document.createElement('div'); d.classList.add('a', 'b', 'a'); d.classList.replace('a', 'c'); return d.className + d.classList.length + d.classList.contains('b') + d.classList.item(0)",
            "c b2truec",
        ),
        ("const d = document.createElement('div'); try { d.classList.add('') } catch (e) { return e.name }", "SyntaxError"),
        ("const d = document.createElement('div'); try { d.classList.add('a b') } catch (e) { return e.name }", "InvalidCharacterError"),
        (
            "const d = document.createElement('div'); d.className = 'a b'; d.classList.remove('a', 'b'); return d.outerHTML",
            "<div class=\"\"></div>",
        ),
        (
            "const d = document.createElement('div'); d.style.cssText = 'COLOR: Red; bogus'; d.style.fontSize = '12px'; d.style.fontSize = ''; return d.style.cssText + d.style.length + d.style.color",
            "color: red;1red",
        ),
        (
            "const d = document.createElement('div'); d.style.setProperty('color', 'red', 'important'); return d.style.cssText + d.style.getPropertyPriority('color')",
            "color: red !important;important",
        ),
        (
            "const d = document.createElement('div'); d.style.margin = '1px 2px'; return d.style.marginLeft + d.style.margin + d.style.length",
            "2px1px 2px4",
        ),
        (
            "const d = document.createElement('div'); d.style.width = '3px'; d.style.removeProperty('width'); return d.outerHTML",
            "<div style=\"\"></div>",
        ),
        (
            "const d = document.createElement('div'); d.dataset.aB = '1'; delete d.dataset.aB; return Object.keys(d.dataset).length + d.outerHTML",
            "0<div></div>",
        ),
        (
            "const o = document.createElement('option'); o.textContent = ' a  b '; return o.text + '|' + o.label + '|' + o.value",
            "a b|a b|a b",
        ),
        ("const o = new Option('t', 'v', true, true); return o.outerHTML + o.selected", "<option value=\"v\" selected=\"\">t</option>true"),
        ("const i = new Image(3, 4); return i.outerHTML", "<img width=\"3\" height=\"4\">"),
        ("const c = document.createElement('td'); c.colSpan = 2; return c.outerHTML + c.rowSpan", "<td colspan=\"2\"></td>1"),
        (
            "return 'disabled' in document.createElement('button') && !('disabled' in document.createElement('div')) && 'onclick' in document.createElement('p')",
            "true",
        ),
        (
            "return document.createElement('kiln-dial') instanceof HTMLElement && document.createElement('kiln') instanceof HTMLUnknownElement",
            "true",
        ),
        (
            "return Object.prototype.toString.call(document.createElement('p')) + Object.prototype.toString.call(document.body.childNodes) + Object.prototype.toString.call(new Event('x'))",
            "[object HTMLParagraphElement][object NodeList][object Event]",
        ),
    ]);
}

#[test]
fn selectors_find_what_they_say() {
    check(&[
        (
            "document.body.innerHTML = '<ul><li class=a>1<li>2<li>3</ul>'; return [...document.querySelectorAll('li:not(.a), li.a + li')].map((e) => e.textContent).join()",
            "2,3",
        ),
        (
            "document.body.innerHTML = '<ul><li>1<li>2<li>3<li>4</ul>'; return [...document.querySelectorAll('li:nth-child(2n)')].map((e) => e.textContent).join() + document.querySelector('li:last-child').textContent",
            "2,44",
        ),
        (
            "document.body.innerHTML = '<p><b></b></p><p></p>'; return document.querySelectorAll('p:has(b)').length + document.querySelectorAll('p:empty').length",
            "2",
        ),
        (
            "document.body.innerHTML = '<input type=checkbox checked><input disabled><input required>'; return ['checked', 'disabled', 'enabled', 'required', 'optional'].map((s) => document.querySelectorAll(':' + s).length).join()",
            "1,1,2,1,2",
        ),
        (
            "document.body.innerHTML = '<p data-x=ab></p>'; return ['[data-x]', '[data-x=ab]', '[data-x^=a]', '[data-x$=b]', '[data-x*=b]', '[data-x=AB i]', '[data-x~=a]'].map((s) => +!!document.querySelector(s)).join('')",
            "1111110",
        ),
        (
            "document.body.innerHTML = '<div><p><b></b></p></div>'; const p = document.querySelector('p'); return p.querySelectorAll('div b').length + '' + p.querySelectorAll(':scope > b').length + p.matches('div > *') + p.closest('div').localName + p.closest('x')",
            "11truedivnull",
        ),
        ("document.body.innerHTML = '<i id=\"1a\"></i>'; return document.querySelector('#' + CSS.escape('1a')).localName", "i"),
        (
            "document.body.innerHTML = '<p class=A></p>'; return document.querySelectorAll('.a').length + document.querySelectorAll('P.A').length",
            "1",
        ),
        (
            "document.body.innerHTML = '<b></b><i></i><u></u>'; return [...document.querySelectorAll(':is(b, u):where(:first-child, :last-child)')].map((e) => e.localName).join()",
            "b,u",
        ),
    ]);
}

#[test]
fn walkers_ranges_and_observers() {
    check(&[
        (
            "document.body.innerHTML = '<p>a<b>c</b></p>d'; const w = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT); const out = []; while (w.nextNode()) out.push(w.currentNode.data); return out.join()",
            "a,c,d",
        ),
        (
            "document.body.innerHTML = '<p><b><i></i></b><u></u></p>'; const w = document.createTreeWalker(document.body, 1, (n) => n.localName === 'b' ? NodeFilter.FILTER_REJECT : NodeFilter.FILTER_ACCEPT); const out = []; while (w.nextNode()) out.push(w.currentNode.localName); return out.join()",
            "p,u",
        ),
        (
            "document.body.innerHTML = '<p>kiln</p>'; const r = document.createRange(); r.setStart(document.querySelector('p').firstChild, 1); r.setEnd(document.querySelector('p').firstChild, 3); const t = r.toString(); r.deleteContents(); return t + document.body.innerHTML + r.collapsed",
            "il<p>kn</p>true",
        ),
        (
            "const f = document.createRange().createContextualFragment('<b>x</b>y'); return f.childNodes.length + f.firstChild.localName",
            "2b",
        ),
        (
            "const m = new MutationObserver(() => {}); const p = document.createElement('p'); m.observe(p, { attributes: true, childList: true, attributeOldValue: true }); p.id = 'a'; p.id = 'b'; p.append('x'); return m.takeRecords().map((r) => r.type + (r.oldValue ?? '-') + r.addedNodes.length).join()",
            "attributes-0,attributesa0,childList-1",
        ),
        (
            "const m = new MutationObserver(() => {}); const p = document.createElement('p'); m.observe(p, { attributes: true, attributeFilter: ['title'] }); p.id = 'a'; p.title = 'b'; return m.takeRecords().length",
            "1",
        ),
    ]);
}

#[test]
fn what_cannot_be_put_somewhere_changes_nothing() {
    check(&[
        (
            "document.body.innerHTML = '<p><b>x</b></p>'; const p = document.querySelector('p'); try { p.replaceChild(p, p.firstChild) } catch (e) { return e.name + p.outerHTML }",
            "HierarchyRequestError<p><b>x</b></p>",
        ),
        (
            "document.body.innerHTML = '<i>1</i><i>2</i><i>3</i>'; const [a, b, c] = document.body.children; b.before(b, c, 'x'); return document.body.innerHTML",
            "<i>1</i><i>2</i><i>3</i>x",
        ),
        (
            "document.body.innerHTML = '<i>1</i><i>2</i>'; const [a, b] = document.body.children; a.after(b, 'x', a); return document.body.textContent",
            "2x1",
        ),
        (
            "document.body.innerHTML = '<i>1</i><i>2</i>'; const [a, b] = document.body.children; a.replaceWith('x', a); return document.body.textContent",
            "x12",
        ),
        ("const f = document.createDocumentFragment(); f.prepend(f, 't'); return f.textContent", "t"),
        (
            "const a = document.createElement('a'), b = document.createElement('a'); a.id = b.title = '1'; a.title = b.id = '1'; return a.isEqualNode(b) + String(a.isEqualNode(a.cloneNode())) + a.isEqualNode(document.createElement('a'))",
            "truetruefalse",
        ),
        (
            "document.body.innerHTML = '<form></form>'; const f = document.body.firstChild; f.innerHTML = '<form><i></i></form>'; return f.outerHTML",
            "<form><i></i></form>",
        ),
        (
            "const e = document.createElement('p'); e.setAttribute('style', 'b c'); e.style.width = '5'; return e.outerHTML + e.style.cssText",
            "<p style=\"b c\"></p>",
        ),
    ]);
}

#[test]
fn text_as_it_shows() {
    check(&[
        ("document.body.innerHTML = '<p>a <b>b</b>  c</p><p>d</p>'; return document.body.innerText", "a b c\n\nd"),
        ("document.body.innerHTML = '<div>a</div><div>b<br>c</div>'; return document.body.innerText", "a\nb\nc"),
        (
            "document.body.innerHTML = '<table><tr><td>a</td><td>b</td></tr><tr><td>c</td></tr></table>'; return document.body.innerText",
            "a\tb\nc",
        ),
        (
            "document.body.innerHTML = 'a<span hidden>b</span><script>c</script><i style=\"display: none\">d</i>'; return document.body.innerText",
            "a",
        ),
        ("const p = document.createElement('p'); p.innerHTML = 'a<br>  b'; return p.innerText", "a  b"),
    ]);
}

#[test]
fn ranges_cut_copy_and_surround() {
    let page = "document.body.innerHTML = '<p id=p>ab<b>cd</b>ef</p><p id=q>gh<i>ij</i></p>'; const [p, q] = document.body.children; const r = document.createRange();";
    let rows: Vec<(String, &str)> = [
        ("r.setStart(p.firstChild, 1); r.setEnd(q.firstChild, 1); return r.toString()", "bcdefg"),
        ("r.setStart(p.firstChild, 1); r.setEnd(q.firstChild, 1); r.deleteContents(); return document.body.innerHTML + r.startContainer.nodeName + r.startOffset + r.collapsed", "<p id=\"p\">a</p><p id=\"q\">h<i>ij</i></p>BODY1true"),
        ("r.setStart(p.firstChild, 1); r.setEnd(p.lastChild, 1); const f = r.extractContents(); const d = document.createElement('div'); d.append(f); return d.innerHTML + '|' + p.innerHTML", "b<b>cd</b>e|af"),
        ("r.setStart(p.firstChild, 1); r.setEnd(q.lastChild.firstChild, 1); const d = document.createElement('div'); d.append(r.cloneContents()); return d.innerHTML + '|' + p.innerHTML.length", "<p id=\"p\">b<b>cd</b>ef</p><p id=\"q\">gh<i>i</i></p>|13"),
        ("r.setStart(p.firstChild, 1); r.insertNode(document.createElement('u')); return p.innerHTML", "a<u></u>b<b>cd</b>ef"),
        ("r.selectNodeContents(p.querySelector('b')); r.surroundContents(document.createElement('u')); return p.innerHTML", "ab<b><u>cd</u></b>ef"),
        ("r.setStart(p.firstChild, 1); r.setEnd(p.querySelector('b').firstChild, 1); try { r.surroundContents(document.createElement('u')) } catch (e) { return e.name }", "InvalidStateError"),
        ("r.setStart(q, 0); r.setEnd(p, 0); return r.startContainer.id + r.collapsed", "ptrue"),
        ("try { r.setStart(p.firstChild, 3) } catch (e) { return e.name }", "IndexSizeError"),
        ("r.selectNode(p); return r.intersectsNode(p.querySelector('b')) + String(r.intersectsNode(q)) + r.comparePoint(q, 0) + r.isPointInRange(p, 1)", "truefalse1true"),
        ("r.selectNode(p); const o = document.createRange(); o.selectNode(q); return [0, 1, 2, 3].map((h) => r.compareBoundaryPoints(h, o)).join()", "-1,0,-1,-1"),
    ]
    .map(|(script, expected)| (format!("{page} {script}"), expected))
    .into();
    check(&rows.iter().map(|(s, e)| (s.as_str(), *e)).collect::<Vec<_>>());
}
