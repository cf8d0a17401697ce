//! Where boxes stand, as scripts see it. The rows are what Chromium gives with the fonts that come with the layout.

mod page;

use page::{check, realm};

#[test]
fn boxes_are_measured() {
    check(&[
        (
            "document.body.innerHTML = '<div style=\"width:50%;padding:10px;border:3px solid\">Fire</div>'; const d = document.body.firstChild, r = d.getBoundingClientRect(); return [r.x, r.y, r.width, r.height, d.offsetWidth, d.clientWidth, d.clientLeft, d.scrollHeight] + ''",
            "8,8,658,45,658,652,3,39",
        ),
        (
            "document.body.innerHTML = '<div style=\"position:relative;margin:20px\"><p><b>x</b></p></div>'; const b = document.querySelector('b'); return [b.offsetParent.localName, b.offsetLeft, b.offsetTop, b.offsetParent.offsetParent.localName, document.body.offsetParent] + ''",
            "div,0,0,body,",
        ),
        (
            "document.body.innerHTML = '<span>one <i>two</i></span>'; const i = document.querySelector('i'); return [i.getClientRects().length, i.clientWidth, i.offsetHeight, Math.round(i.getBoundingClientRect().width * 64)] + ''",
            "1,0,19,1866",
        ),
        (
            "document.body.innerHTML = '<div hidden>x</div>'; const d = document.body.firstChild, r = d.getBoundingClientRect(); return [r.width, r.height, d.getClientRects().length, d.offsetParent, d.offsetWidth] + ''",
            "0,0,0,,0",
        ),
        (
            "document.body.innerHTML = '<div style=\"overflow:auto;height:40px;width:60px\"><div style=\"height:300px;width:100px\"></div></div>'; const d = document.body.firstChild; d.scrollTop = 1000; d.scrollLeft = 10; return [d.scrollTop, d.scrollLeft, d.scrollHeight, d.scrollWidth, d.clientHeight, d.firstChild.getBoundingClientRect().y] + ''",
            "260,10,300,100,40,-252",
        ),
        (
            "document.body.innerHTML = '<div style=\"height:2000px\"></div><p>end</p>'; window.scrollTo(0, 500); const y = scrollY; document.querySelector('p').scrollIntoView(); const out = [y, scrollY > 1000, document.documentElement.scrollTop === scrollY, Math.round(document.querySelector('p').getBoundingClientRect().bottom) <= innerHeight, document.documentElement.clientHeight]; scrollTo(0, 0); return out + ''",
            "500,true,true,true,800",
        ),
        (
            "document.body.innerHTML = '<div style=\"width:calc(100% - 20px);margin:0 auto;max-width:400px;padding:5%\"></div>'; const s = getComputedStyle(document.body.firstChild); return [s.width, s.marginLeft, s.paddingTop, s.padding, s.height] + ''",
            "400px,368.812px,63.1875px,63.1875px,0px",
        ),
        (
            "document.body.innerHTML = '<div style=\"position:relative;width:200px;height:100px\"><i style=\"position:absolute;right:10px;bottom:20%;width:50px;height:10px;transform:translate(-50%,0)\"></i></div>'; const s = getComputedStyle(document.querySelector('i')); return [s.left, s.top, s.right, s.bottom, s.transform] + ''",
            "140px,70px,10px,20px,matrix(1, 0, 0, 1, -25, 0)",
        ),
        (
            "document.body.innerHTML = '<textarea style=\"height:0;padding:0;border:0;width:100px\">a\\nb\\nc</textarea>'; return document.body.firstChild.scrollHeight",
            "45",
        ),
        (
            "document.body.innerHTML = '<div style=\"height:0;overflow:hidden\"><p>long</p><p>text</p></div><div style=\"height:0;overflow:hidden\"><div><p>in</p></div></div><div style=\"height:0\"><p>x</p></div>'; return [...document.body.children].map((d) => d.scrollHeight) + ''",
            "86,51,19",
        ),
        (
            "document.body.innerHTML = '<div style=\"display:inline-block\"><div style=\"width:100%\"><div style=\"display:inline-block;width:100%\"><input style=\"width:100%\"></div></div></div><br><div style=\"display:inline-block\"><div style=\"width:100%\"><div style=\"display:inline-flex;width:100%\"><div style=\"width:100%\">hello</div></div></div></div><br><div style=\"display:inline-block\"><input style=\"width:100%;min-width:50px\"></div>'; return [...document.querySelectorAll('body > div')].map((d) => d.getBoundingClientRect().width) + ''",
            "179,38.671875,179",
        ),
        (
            "document.body.innerHTML = '<div style=\"position:relative;left:.4px\"><i style=\"position:absolute;left:10.3px;width:20.3px;height:1px\"></i><b style=\"position:absolute;left:10.6px;width:20.3px;height:1px\"></b></div>'; return [...document.querySelectorAll('i, b')].map((d) => [d.offsetLeft, d.offsetWidth]) + ''",
            "10,20,11,20",
        ),
        (
            "document.body.innerHTML = '<div style=\"display:none\"><b style=\"width:10%\"></b></div>'; const s = getComputedStyle(document.querySelector('b')); return [s.width, s.height, s.marginTop] + ''",
            "10%,auto,0px",
        ),
        (
            "const d = document.createElement('div'); d.style.width = 'calc(2 * (10px + 4px))'; const a = d.style.width; d.style.width = 'calc(1 * undefined)'; return [a, d.style.width] + ''",
            "calc(28px),calc(28px)",
        ),
    ]);
}

#[test]
fn what_is_observed_is_told_when_the_page_is_drawn() {
    for (script, asked, expected) in [
        (
            "document.body.innerHTML = '<div style=\"width:100px;height:20px\"></div><p></p>'; globalThis.seen = []; const [d, p] = document.body.children; const o = new ResizeObserver((es) => seen.push(...es.map((e) => e.target.localName + e.contentRect.width + 'x' + e.borderBoxSize[0].blockSize))); o.observe(d); o.observe(p); requestAnimationFrame(() => requestAnimationFrame(() => { d.style.width = '50px'; d.style.padding = '1px'; }))",
            "seen + ''",
            "div100x20,p1264x0,div50x22",
        ),
        (
            "document.body.innerHTML = '<div style=\"height:3000px\"></div><p>x</p>'; globalThis.seen = []; new IntersectionObserver((es) => seen.push(...es.map((e) => e.isIntersecting + ':' + e.intersectionRatio))).observe(document.querySelector('p')); requestAnimationFrame(() => requestAnimationFrame(() => scrollTo(0, 5000)))",
            "scrollTo(0, 0), seen + ''",
            "false:0,true:1",
        ),
        (
            "document.body.innerHTML = '<div style=\"overflow:auto;height:20px\"><p style=\"height:90px\"></p></div>'; globalThis.seen = []; const d = document.body.firstChild; d.onscroll = () => seen.push(d.scrollTop); d.scrollTop = 5; d.scrollTop = 9",
            "seen + ''",
            "9",
        ),
        (
            "globalThis.seen = []; for (const src of ['/kiln.png', 'data:,']) { const i = new Image(); i.onload = () => seen.push('load'); i.onerror = () => seen.push('error'); i.src = src; }",
            "seen + ''",
            "error,error",
        ),
    ] {
        let realm = realm();
        realm.eval(&format!("(() => {{ {script} }})()")).expect("runs");
        realm.settle(200.0).expect("settles");
        assert_eq!(realm.eval(asked).expect("runs"), expected, "{script}");
    }
}

/// A loop that asks for a layout in each turn makes few steps itself: what the layouts do counts too.
#[test]
fn a_layout_is_work() {
    let realm = realm();
    let work = |width: &str| {
        let before = realm.work();
        realm
            .eval(&format!(
                "document.body.innerHTML = '<p>mug</p>'.repeat(400); for (let i = 0; i < 300; i++) {{ document.body.style.width = {width}; document.body.offsetHeight }} ''"
            ))
            .expect("it runs");
        realm.work() - before
    };
    let (once, anew) = (work("'300px'"), work("300 + i + 'px'"));
    assert!(anew > 300 * 400 * 50 && anew > once * 20, "{once}, {anew}");
}
