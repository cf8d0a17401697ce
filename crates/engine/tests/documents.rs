//! Documents besides the page's own, and what follows changes of a tree, as scripts see them (DOM §4.5, §5, §6; DOM Parsing).

mod page;

use page::check;

#[test]
fn documents_are_made_and_own_their_nodes() {
    check(&[
        (
            "const d = document.implementation.createDocument(null, 'kiln', document.implementation.createDocumentType('q', 'a', 'b')); const e = d.createElement('Lid'); return [d.doctype.publicId, d.documentElement.nodeName, e.nodeName, e.ownerDocument === d, d.contentType, d.documentElement.isConnected].join()",
            "a,kiln,Lid,true,application/xml,true",
        ),
        (
            "const d = document.implementation.createHTMLDocument('Glaze'); return [d.title, d.body.outerHTML, d.doctype.name, d.body.ownerDocument === d, d.defaultView].join()",
            "Glaze,<body></body>,html,true,",
        ),
        (
            "const d = new DOMParser().parseFromString('<p id=z>hi', 'text/html'); const p = d.querySelector('p'); p.remove(); const was = p.ownerDocument === d; document.adoptNode(p); return [was, p.ownerDocument === document].join()",
            "true,true",
        ),
        (
            "const d = document.implementation.createDocument(null, null); const i = d.createProcessingInstruction('x', 'y'); d.append(i); return [i.nodeType, i.target, i.data, new XMLSerializer().serializeToString(d)].join()",
            "7,x,y,<?x y?>",
        ),
        ("try { document.createProcessingInstruction('x', 'a?>'); } catch (e) { return e.name }", "InvalidCharacterError"),
        ("try { document.createElementNS(null, 'a:b'); } catch (e) { return e.name }", "NamespaceError"),
        ("return document.implementation.createDocument(null, null).createCDATASection('a').nodeType", "4"),
    ]);
}

#[test]
fn texts_of_xml_become_trees() {
    check(&[
        (
            "const d = new DOMParser().parseFromString('<svg xmlns=\"http://www.w3.org/2000/svg\"><path d=\"M1\"/>a &amp; b<!--c--></svg>', 'image/svg+xml'); return [d.documentElement instanceof SVGElement, d.documentElement.childNodes.length, new XMLSerializer().serializeToString(d)].join()",
            "true,3,<svg xmlns=\"http://www.w3.org/2000/svg\"><path d=\"M1\"/>a &amp; b<!--c--></svg>",
        ),
        ("return new DOMParser().parseFromString('<a><b></a>', 'text/xml').querySelector('parsererror') !== null", "true"),
        ("return new DOMParser().parseFromString('two<a/>', 'text/xml').querySelector('parsererror') !== null", "true"),
        ("try { new DOMParser().parseFromString('', 'text/plain'); } catch (e) { return e.name }", "TypeError"),
        (
            "document.body.innerHTML = '<p>a<br></p>'; return new XMLSerializer().serializeToString(document.body.firstChild)",
            "<p xmlns=\"http://www.w3.org/1999/xhtml\">a<br /></p>",
        ),
    ]);
}

#[test]
fn ranges_and_iterators_follow_the_tree() {
    check(&[
        (
            "document.body.innerHTML = '<i></i><b>abc</b><u></u>'; const r = document.createRange(); r.setStart(document.body, 1); r.setEnd(document.body, 3); document.body.firstChild.remove(); return [r.startOffset, r.endOffset].join()",
            "0,2",
        ),
        (
            "document.body.innerHTML = '<b>abcdef</b>'; const t = document.body.firstChild.firstChild; const r = document.createRange(); r.setStart(t, 2); r.setEnd(t, 5); t.deleteData(1, 2); return [r.startOffset, r.endOffset].join()",
            "1,3",
        ),
        (
            "document.body.innerHTML = '<b>abcdef</b>'; const t = document.body.firstChild.firstChild; const r = document.createRange(); r.setStart(t, 4); const rest = t.splitText(3); return [r.startContainer === rest, r.startOffset].join()",
            "true,1",
        ),
        (
            "document.body.innerHTML = '<p><b>x</b></p>'; const r = document.createRange(); r.setStart(document.querySelector('b').firstChild, 1); document.body.innerHTML = ''; return [r.startContainer === document.body, r.startOffset].join()",
            "true,0",
        ),
        (
            "document.body.innerHTML = '<i></i><b></b><u></u>'; const n = document.createNodeIterator(document.body, NodeFilter.SHOW_ELEMENT); n.nextNode(); n.nextNode(); n.nextNode(); n.referenceNode.remove(); return [n.referenceNode.localName, n.nextNode().localName].join()",
            "i,u",
        ),
        (
            "const s = new StaticRange({ startContainer: document.body, startOffset: 0, endContainer: document.body, endOffset: 9 }); return [s.collapsed, s.endOffset].join()",
            "false,9",
        ),
    ]);
}

#[test]
fn frames_hold_a_document_of_their_own() {
    check(&[
        (
            "const f = document.createElement('iframe'); const none = f.contentDocument; document.body.append(f); const d = f.contentDocument; return [none, d.URL !== '', d !== document, d.defaultView === f.contentWindow, f.contentWindow.parent === window].join()",
            ",true,true,true,true",
        ),
        (
            "const f = document.createElement('iframe'); f.srcdoc = '<p>in it</p>'; document.body.append(f); return f.contentDocument.querySelector('p').textContent",
            "in it",
        ),
        (
            "const f = document.createElement('iframe'); f.src = 'https://kiln.example/'; document.body.append(f); return String(f.contentDocument)",
            "null",
        ),
    ]);
}
