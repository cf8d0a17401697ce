//! Encodings, blobs, streams, bodies and signals, as scripts see them (Encoding, File API, Streams, Fetch §5, DOM §3).

mod page;

use page::check;

#[test]
fn texts_are_encoded_and_decoded() {
    check(&[
        ("return [...new TextEncoder().encode('ä€')].join()", "195,164,226,130,172"),
        (
            "const into = new Uint8Array(3); const { read, written } = new TextEncoder().encodeInto('aä€', into); return [read, written].join()",
            "2,3",
        ),
        (
            "const d = new TextDecoder(); return d.decode(new Uint8Array([226, 130]), { stream: true }) + d.decode(new Uint8Array([172]))",
            "€",
        ),
        ("return new TextDecoder('utf-16le').decode(new Uint8Array([65, 0])) + new TextDecoder('latin1').encoding", "Awindows-1252"),
        ("try { new TextDecoder('utf-8', { fatal: true }).decode(new Uint8Array([255])) } catch (e) { return e.name }", "TypeError"),
        ("try { new TextDecoder('kiln') } catch (e) { return e.name }", "RangeError"),
    ]);
}

#[test]
fn half_a_pair_of_surrogates_is_text() {
    check(&[
        ("const p = document.createElement('p'); p.textContent = '🏺'[0] + 'x'; return p.textContent.length + p.textContent[1]", "2x"),
        ("const p = document.createElement('p'); p.title = '🏺'[1]; return p.title.charCodeAt(0).toString(16)", "fffd"),
        ("return document.createTextNode('🏺'.slice(0, 1)).data.charCodeAt(0).toString(16)", "fffd"),
    ]);
}

#[test]
fn patterns_that_are_compiled_once_are_each_their_own() {
    check(&[
        (
            "const a = new RegExp('k', 'g'), b = new RegExp('k', 'g'); a.test('kk'); return [a.lastIndex, b.lastIndex, a === b].join()",
            "1,0,false",
        ),
        (
            "return [RegExp('a') instanceof RegExp, /a/.constructor === RegExp, RegExp.name, RegExp.length, new RegExp(/a/g, 'i').flags].join()",
            "true,true,RegExp,2,i",
        ),
        ("const r = /a/g; return [RegExp(r) === r, new RegExp(r) === r, new RegExp(r).flags].join()", "true,false,g"),
        (
            "class Kiln extends RegExp { hot() { return this.test('x') } } const k = new Kiln('x'); return [k instanceof Kiln, k.hot()].join()",
            "true,true",
        ),
        ("try { new RegExp('(') } catch (e) { return e.name }", "SyntaxError"),
        ("return ['a1b2'.split(new RegExp('[0-9]')).join(), [...'x1y2'.matchAll(new RegExp('[a-z]', 'g'))].join()].join('|')", "a,b,|x,y"),
    ]);
}

#[test]
fn blobs_and_bodies_hold_bytes() {
    check(&[
        (
            "const b = new Blob(['ab', new Uint8Array([99])], { type: 'Text/Plain' }); return [b.size, b.type, b.slice(-2).size].join()",
            "3,text/plain,2",
        ),
        ("const f = new File(['x'], 'kiln.txt'); return [f.name, f.size, f instanceof Blob].join()", "kiln.txt,1,true"),
        (
            "const q = new Request('/a', { method: 'post', body: new URLSearchParams('a=1') }); return [q.method, q.headers.get('Content-Type')].join()",
            "POST,application/x-www-form-urlencoded;charset=UTF-8",
        ),
        ("const r = new Response('hi'); return [r.body instanceof ReadableStream, r.bodyUsed, r.clone().ok].join()", "true,false,true"),
        ("try { new Response('x', { status: 204 }) } catch (e) { return e.name }", "TypeError"),
        ("try { new Request('/a', { body: 'x' }) } catch (e) { return e.name }", "TypeError"),
        ("return [...new Headers([['B', ' 1 '], ['a', '2'], ['b', '3']])].join(';')", "a,2;b,1, 3"),
        (
            "const f = new FormData(); f.append('f', new Blob(['x']), 'lid.txt'); return [f.get('f').name, f.get('f') instanceof File].join()",
            "lid.txt,true",
        ),
    ]);
}

#[test]
fn signals_follow_one_another() {
    check(&[
        (
            "const c = new AbortController(); const s = AbortSignal.any([c.signal, new AbortController().signal]); let n = 0; s.onabort = () => n++; c.abort('why'); return [s.aborted, s.reason, n].join()",
            "true,why,1",
        ),
        ("try { new AbortSignal() } catch (e) { return e.name }", "TypeError"),
        ("return AbortSignal.abort().reason.name", "AbortError"),
    ]);
}
