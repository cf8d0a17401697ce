//! Points, rectangles and matrices, as scripts see them.

mod page;

use page::check;

/// Each row as Chromium gives it (Geometry Interfaces Module 1).
#[test]
fn points_and_matrices() {
    check(&[
        (
            "const m = new DOMMatrix('translate(10px, 20px) rotate(90deg) scale(2)'); return [m.toString(), m.is2D, m.isIdentity, m.e, m.m42].join('|')",
            "matrix(0, 2, -2, 0, 10, 20)|true|false|10|20",
        ),
        (
            "const m = new DOMMatrixReadOnly('matrix(2, 0, 0, 2, 5, 6)').inverse(); return m.toString() + m.transformPoint({ x: 5, y: 6 }).x",
            "matrix(0.5, 0, 0, 0.5, -2.5, -3)0",
        ),
        ("return new DOMMatrix('translate3d(1px, 2px, 3px)').toString()", "matrix3d(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 1, 2, 3, 1)"),
        (
            "const out = []; for (const t of ['none', '', 'rotate(1turn)', 'translate(10%)', 'spin(2deg)', 'scale(2,3)', 'translateX(1in)', 'rotate(0)', 'rotate(5)', 'skewX(45deg)', 'scale(2) 3']) { try { const m = new DOMMatrix(t); out.push([m.a, m.b, m.c, m.d, m.e, m.f].map((v) => Math.round(v * 1e6) / 1e6).join(' ')) } catch (e) { out.push(e.name) } } return out.join('|')",
            "1 0 0 1 0 0|1 0 0 1 0 0|1 0 0 1 0 0|SyntaxError|SyntaxError|2 0 0 3 0 0|1 0 0 1 96 0|1 0 0 1 0 0|SyntaxError|1 0 1 1 0 0|SyntaxError",
        ),
        (
            "const out = []; for (const l of [[1, 2, 3, 4, 5, 6], [1, 2], new Array(16).fill(1)]) { try { out.push(new DOMMatrix(l).toString()) } catch (e) { out.push(e.name) } } return out.join('|')",
            "matrix(1, 2, 3, 4, 5, 6)|TypeError|matrix3d(1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1)",
        ),
        (
            "const m = new DOMMatrix(); m.translateSelf(3, 4).scaleSelf(2).rotateSelf(90); return [m.a, m.b, m.c, m.d, m.e, m.f].map((v) => Math.round(v * 1e6) / 1e6).join()",
            "0,2,-2,0,3,4",
        ),
        (
            "const m = new DOMMatrix().rotate(10, 20, 30); return [...m.toFloat64Array()].map((v) => v.toFixed(5)).join()",
            "0.81380,0.46985,-0.34202,0.00000,-0.44097,0.88256,0.16318,0.00000,0.37852,0.01803,0.92542,0.00000,0.00000,0.00000,0.00000,1.00000",
        ),
        (
            "const m = new DOMMatrix().rotateAxisAngle(1, 1, 1, 120); return [...m.toFloat32Array()].map((v) => Math.round(v)).join() + m.is2D",
            "0,1,0,0,0,0,1,0,1,0,0,0,0,0,0,1false",
        ),
        (
            "const q = DOMQuad.fromRect({ x: 1, y: 2, width: 3, height: 4 }); const b = q.getBounds(); return [q.p3.x, q.p3.y, b.width, b.height, JSON.stringify(q.p1)].join('|')",
            r#"4|6|3|4|{"x":1,"y":2,"z":0,"w":1}"#,
        ),
        (
            "const p = new DOMPoint(1, 2); p.x = 7; const r = DOMPointReadOnly.fromPoint(p); try { r.x = 3 } catch {} return [r.x, r.w, JSON.stringify(p.matrixTransform({ e: 10 }))].join('|')",
            r#"7|1|{"x":17,"y":2,"z":0,"w":1}"#,
        ),
        (
            "const out = []; for (const o of [{ a: 1, m11: 2 }, { is2D: true, m33: 2 }, { m33: 2 }, { f: 4 }]) { try { out.push(DOMMatrix.fromMatrix(o).toString()) } catch (e) { out.push(e.name) } } return out.join('|')",
            "TypeError|TypeError|matrix3d(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 2, 0, 0, 0, 0, 1)|matrix(1, 0, 0, 1, 0, 4)",
        ),
        (
            "const m = new DOMMatrix([1, 1, 1, 1, 0, 0]).inverse(); const out = [m.a, m.is2D]; try { m.toString() } catch (e) { out.push(e.name) } return out.join()",
            "NaN,false,InvalidStateError",
        ),
        (
            "const m = new DOMMatrix('scale(2)'); m.m33 = 3; return [m.is2D, m.toString(), Object.prototype.toString.call(m), WebKitCSSMatrix === DOMMatrix].join('|')",
            "false|matrix3d(2, 0, 0, 0, 0, 2, 0, 0, 0, 0, 3, 0, 0, 0, 0, 1)|[object DOMMatrix]|true",
        ),
        (
            "return JSON.stringify(new DOMMatrix([1, 2, 3, 4, 5, 6]).multiply({ a: 2 }).preMultiplySelf({ d: 3 }).flipX().flipY().skewX(45))",
            r#"{"a":-2,"b":-12,"c":-5,"d":-24,"e":5,"f":18,"m11":-2,"m12":-12,"m13":0,"m14":0,"m21":-5,"m22":-24,"m23":0,"m24":0,"m31":0,"m32":0,"m33":1,"m34":0,"m41":5,"m42":18,"m43":0,"m44":1,"is2D":true,"isIdentity":false}"#,
        ),
        (
            "const m = new DOMMatrix().rotateFromVector(1, 1); return m.a.toFixed(4) + m.b.toFixed(4) + new DOMMatrix().setMatrixValue('translateY(3px)').f",
            "0.70710.70713",
        ),
        ("return new DOMMatrix('perspective(100px)').m34 + '|' + new DOMMatrix('rotate3d(0, 0, 1, 90deg)').is2D", "-0.01|false"),
    ]);
}
