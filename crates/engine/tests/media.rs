//! Media elements that no data ever comes to, as scripts see them.

mod page;

use page::{check, realm};

#[test]
fn what_scripts_set_is_kept() {
    check(&[
        (
            "const v = document.createElement('video'); v.muted = true; return [v.muted, v.defaultMuted, v.outerHTML].join()",
            "true,false,<video></video>",
        ),
        (
            "document.body.innerHTML = '<audio muted>'; const a = document.body.firstChild; const was = a.muted; a.muted = false; return [was, a.muted].join()",
            "true,false",
        ),
        (
            "const v = document.createElement('video'); v.volume = .25; v.playbackRate = 2; v.currentTime = 4; return [v.volume, v.playbackRate, v.currentTime, v.duration].join()",
            "0.25,2,4,NaN",
        ),
        ("const v = document.createElement('video'); try { v.volume = 3 } catch (e) { return e.name + v.volume }", "IndexSizeError1"),
        ("const v = document.createElement('video'); try { v.currentTime = 'soon' } catch (e) { return e.name }", "TypeError"),
        (
            "const a = new Audio('kiln.mp3'); return [a.tagName, a instanceof HTMLMediaElement, a.getAttribute('src'), a.preload].join()",
            "AUDIO,true,kiln.mp3,auto",
        ),
        (
            "const v = document.createElement('video'); return [v.buffered.length, v.textTracks.length, v.networkState, v.readyState, HTMLMediaElement.HAVE_METADATA].join()",
            "0,0,0,0,1",
        ),
    ]);
}

#[test]
fn playing_is_begun_and_ended_and_nothing_plays() {
    let realm = realm();
    let begun = "globalThis.told = []; const v = document.createElement('video'); for (const t of ['play', 'pause', 'volumechange']) v.addEventListener(t, () => told.push(t)); v.muted = true; v.muted = true; v.play().catch((e) => told.push(e.name)); told.push(v.paused); v.pause(); told.push(v.paused); new Audio('kiln.mp3').play().catch((e) => told.push(e.name)); ''";
    realm.eval(begun).expect("it runs");
    realm.settle(20.0).expect("it rests");
    assert_eq!(realm.eval("told.join()").expect("it runs"), "false,true,NotSupportedError,volumechange,play,pause,AbortError");
}
