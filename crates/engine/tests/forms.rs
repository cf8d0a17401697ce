//! Form controls and their state, as scripts see them.

mod page;

use page::check;

#[test]
fn form_state() {
    check(&[
        (
            "document.body.innerHTML = '<input value=a>'; const i = document.body.firstChild; i.value = 'b'; return i.value + i.getAttribute('value') + i.defaultValue",
            "baa",
        ),
        (
            "document.body.innerHTML = '<select><option>a<option>b</select>'; const s = document.body.firstChild; s.value = 'b'; return s.selectedIndex + s.options[1].text + (s.value = 'z', s.selectedIndex)",
            "1b-1",
        ),
        (
            "document.body.innerHTML = '<input type=radio name=u value=1 checked><input type=radio name=u value=2>'; const [a, b] = document.querySelectorAll('input'); b.click(); return a.checked + '' + b.checked",
            "falsetrue",
        ),
        ("const i = document.createElement('input'); i.type = 'number'; i.value = '3'; i.stepUp(); return i.value + i.valueAsNumber", "44"),
        (
            "const i = document.createElement('input'); i.required = true; return i.validity.valueMissing + '' + i.checkValidity()",
            "truefalse",
        ),
    ]);
}

#[test]
fn fields_keep_value_and_attribute_apart() {
    check(&[
        ("const i = document.createElement('input'); i.value = 'a'; i.setAttribute('value', 'b'); return i.value + i.defaultValue", "ab"),
        ("const i = document.createElement('input'); i.setAttribute('value', 'b'); return i.value", "b"),
        (
            "const i = document.createElement('input'); i.type = 'number'; i.value = 'abc'; return '[' + i.value + ']' + i.valueAsNumber",
            "[]NaN",
        ),
        (
            "const i = document.createElement('input'); i.type = 'range'; return [i.value, (i.value = 200, i.value), (i.value = 33.3, i.value)].join()",
            "50,100,33",
        ),
        ("const i = document.createElement('input'); i.type = 'range'; i.min = 10; i.max = 20; i.value = 5; return i.value", "10"),
        (
            "const i = document.createElement('input'); i.type = 'color'; return i.value + (i.value = '#ABCDEF', i.value) + (i.value = 'x', i.value)",
            "#000000#abcdef#000000",
        ),
        (
            "const i = document.createElement('input'); i.type = 'date'; i.value = '2031-02-30'; const a = i.value; i.value = '2031-03-01'; return a + i.value",
            "2031-03-01",
        ),
        ("const i = document.createElement('input'); i.value = 'a\\nb'; return i.value", "ab"),
        (
            "const i = document.createElement('input'); i.type = 'email'; i.value = ' a@b.c '; return '[' + i.value + ']' + i.validity.valid",
            "[a@b.c]true",
        ),
        (
            "const i = document.createElement('input'); i.type = 'checkbox'; const a = i.value; i.value = 'x'; return a + i.value + i.getAttribute('value')",
            "onxx",
        ),
        (
            "const t = document.createElement('textarea'); t.innerHTML = 'a'; const x = t.value; t.value = 'b'; t.textContent = 'c'; return x + t.value + t.defaultValue + t.textLength",
            "abc1",
        ),
        (
            "const i = document.createElement('input'); i.type = 'checkbox'; i.checked = true; i.removeAttribute('checked'); return i.checked + '' + i.defaultChecked + i.hasAttribute('checked')",
            "truefalsefalse",
        ),
        (
            "document.body.innerHTML = '<input value=kiln>'; const i = document.querySelector('input'); i.setSelectionRange(1, 3); i.setRangeText('X'); return i.value + i.selectionStart",
            "kXn1",
        ),
        (
            "document.body.innerHTML = '<input value=kiln>'; const i = document.querySelector('input'); i.select(); return i.selectionStart + ',' + i.selectionEnd",
            "0,4",
        ),
        (
            "const i = document.createElement('input'); i.type = 'number'; i.step = '0.5'; i.value = '1'; i.stepUp(3); i.stepDown(); return i.value",
            "2",
        ),
    ]);
}

#[test]
fn selects_and_their_options() {
    check(&[
        (
            "document.body.innerHTML = '<select><option value=1>a<option value=2 selected>b</select>'; const s = document.querySelector('select'); return s.value + s.selectedIndex + s.options.length + s.selectedOptions[0].text + s.type",
            "212bselect-one",
        ),
        (
            "document.body.innerHTML = '<select multiple><option selected>a<option selected>b<option>c</select>'; const s = document.querySelector('select'); return s.selectedOptions.length + s.type + s.value",
            "2select-multiplea",
        ),
        ("document.body.innerHTML = '<select><option disabled>a<option>b</select>'; return document.querySelector('select').value", "b"),
        (
            "const s = document.createElement('select'); s.add(new Option('a', '1')); s.add(new Option('b', '2')); s.selectedIndex = 1; s.remove(0); return s.value + s.length",
            "21",
        ),
        (
            "document.body.innerHTML = '<select><optgroup label=g><option>a</optgroup><option>b</select>'; const s = document.querySelector('select'); return s.options.length + s.options[0].parentNode.label",
            "2g",
        ),
        (
            "document.body.innerHTML = '<select><option>a<option>b</select>'; const s = document.querySelector('select'); s.options[1].selected = true; return s.value + s.options[0].selected",
            "bfalse",
        ),
        (
            "document.body.innerHTML = '<select><option>a</select>'; const s = document.querySelector('select'); s.innerHTML = '<option>x<option selected>y'; return s.value",
            "y",
        ),
    ]);
}

#[test]
fn forms_gather_and_judge() {
    check(&[
        (
            "document.body.innerHTML = '<form><input name=a value=1><input name=b type=checkbox><input name=c type=checkbox checked value=x><select name=d><option>o</select><textarea name=e>t</textarea><input disabled name=f value=z><button name=g value=h></button></form>'; return [...new FormData(document.forms[0])].map((p) => p.join('=')).join('&')",
            "a=1&c=x&d=o&e=t",
        ),
        (
            "document.body.innerHTML = '<form><input name=a><input id=b></form>'; const f = document.forms[0]; return f.elements.length + f.elements.a.name + f.a.name + f.elements.b.id",
            "2aab",
        ),
        (
            "document.body.innerHTML = '<form><input required></form>'; let n = 0; document.querySelector('input').oninvalid = () => n++; return document.forms[0].checkValidity() + '' + n",
            "false1",
        ),
        (
            "const i = document.createElement('input'); i.setCustomValidity('cold'); return i.validationMessage + i.validity.customError + i.checkValidity()",
            "coldtruefalse",
        ),
        (
            "const i = document.createElement('input'); i.pattern = '[a-z]+'; i.value = 'A1'; return i.validity.patternMismatch + '' + (i.value = 'ab', i.validity.valid)",
            "truetrue",
        ),
        (
            "const i = document.createElement('input'); i.type = 'number'; i.min = 1; i.max = 3; return [0, 2, 4].map((v) => (i.value = v, i.validity.rangeUnderflow + '/' + i.validity.rangeOverflow)).join()",
            "true/false,false/false,false/true",
        ),
        ("const i = document.createElement('input'); i.type = 'email'; i.value = 'nope'; return i.validity.typeMismatch", "true"),
        (
            "document.body.innerHTML = '<form><button>a</button></form>'; let s; document.forms[0].onsubmit = (e) => { e.preventDefault(); s = e.submitter }; document.forms[0].requestSubmit(); return String(s)",
            "null",
        ),
        (
            "document.body.innerHTML = '<fieldset disabled><legend><input id=a></legend><input id=b></fieldset>'; return document.getElementById('a').matches(':disabled') + '' + document.getElementById('b').matches(':disabled')",
            "falsetrue",
        ),
        (
            "document.body.innerHTML = '<label>a<input id=x></label><label for=x>b</label>'; return document.getElementById('x').labels.length + document.querySelector('label').control.id",
            "2x",
        ),
        (
            "const f = new FormData(); f.append('a', 1); f.append('a', 2); f.set('b', 3); f.delete('b'); return f.getAll('a').join() + f.has('b') + typeof f.get('a')",
            "1,2falsestring",
        ),
    ]);
}

/// Each row as Chromium gives it.
#[test]
fn values_are_validated() {
    check(&[
        (
            r#"document.body.innerHTML = '<form><fieldset><input required><input value=a></fieldset><select required><option value="">none<option>mug</select></form>'; return [...document.querySelectorAll(':invalid')].map((e) => e.localName).join() + '|' + [...document.querySelectorAll(':valid')].map((e) => e.localName).join()"#,
            "form,fieldset,input,select|input",
        ),
        (
            "const i = document.createElement('input'); i.type = 'week'; const out = []; for (const v of ['2020-W53', '2019-W53', '1970-W01']) { i.value = v; out.push(i.value, i.valueAsNumber) } i.value = '2026-W01'; i.stepUp(60); out.push(i.value, i.valueAsDate.toISOString()); return out.join()",
            "2020-W53,1609113600000,,NaN,1970-W01,-259200000,2027-W08,2027-02-22T00:00:00.000Z",
        ),
        (
            "const i = document.createElement('input'); i.type = 'month'; i.valueAsDate = new Date(Date.UTC(2031, 4, 6)); const out = [i.value, i.valueAsNumber]; i.stepDown(7); out.push(i.value, i.valueAsDate.toISOString()); return out.join()",
            "2031-05,736,2030-10,2030-10-01T00:00:00.000Z",
        ),
        (
            "const i = document.createElement('input'); i.type = 'datetime-local'; i.value = '2031-03-01 04:05:00'; const out = [i.value, i.valueAsNumber, i.valueAsDate]; i.stepUp(); out.push(i.value); try { i.valueAsDate = new Date() } catch (e) { out.push(e.name) } return out.join()",
            "2031-03-01T04:05,1930104300000,,2031-03-01T04:06,InvalidStateError",
        ),
        (
            "const i = document.createElement('input'); i.type = 'time'; i.min = '22:00'; i.max = '06:00'; return ['23:00', '12:00', '05:59'].map((v) => (i.value = v, i.validity.rangeUnderflow + '/' + i.validity.rangeOverflow)).join()",
            "false/false,true/true,false/false",
        ),
        (
            "const i = document.createElement('input'); i.type = 'number'; i.step = '0.1'; i.value = '0.3'; const out = [i.validity.stepMismatch]; i.value = '0.35'; out.push(i.validity.stepMismatch); i.stepUp(); out.push(i.value); i.step = 'any'; try { i.stepUp() } catch (e) { out.push(e.name) } return out.join()",
            "false,true,0.4,InvalidStateError",
        ),
        (
            "const i = document.createElement('input'); const out = []; try { i.valueAsNumber = 3 } catch (e) { out.push(e.name) } i.type = 'number'; try { i.valueAsNumber = Infinity } catch (e) { out.push(e.name) } i.valueAsNumber = NaN; out.push('[' + i.value + ']'); i.valueAsNumber = 2.5; out.push(i.value); return out.join()",
            "InvalidStateError,TypeError,[],2.5",
        ),
        (
            "const out = []; for (const html of ['<input type=hidden>', '<input readonly>', '<input type=checkbox readonly>', '<button>', '<button type=button>', '<output>', '<fieldset>', '<textarea readonly>', '<datalist><input></datalist>', '<object>']) { document.body.innerHTML = html; const e = document.body.querySelector('input,button,output,fieldset,textarea,object'); out.push(e.willValidate) } return out.join()",
            "false,false,false,true,false,false,false,false,false,false",
        ),
        (
            "document.body.innerHTML = '<input maxlength=2 value=abc>'; const i = document.body.firstChild; i.value = 'abcd'; return [i.validity.tooLong, i.validity === i.validity, Object.prototype.toString.call(i.validity)].join()",
            "false,true,[object ValidityState]",
        ),
        (
            "document.body.innerHTML = '<form><button type=button>a</button><button id=b>b</button><input type=checkbox checked><progress></progress><progress value=1></progress><input type=radio name=r></form>'; return [...document.querySelectorAll(':default')].map((e) => e.id || e.type).join() + '|' + [...document.querySelectorAll(':indeterminate')].map((e) => e.localName + e.type).join()",
            "b,checkbox|progressundefined,inputradio",
        ),
        (
            "document.body.innerHTML = '<input type=number min=1 max=3 value=2><input type=number min=1 value=0><input type=number value=5><input type=number min=1 value=0 readonly>'; return document.querySelectorAll(':in-range').length + ',' + document.querySelectorAll(':out-of-range').length",
            "1,1",
        ),
        (
            r#"document.body.innerHTML = '<input type=email multiple value=" a@b , c@d ">'; return '[' + document.body.firstChild.value + ']' + document.body.firstChild.validity.valid"#,
            "[a@b,c@d]true",
        ),
        (
            r#"document.body.innerHTML = '<input pattern="[a-z" value=A><input pattern=")(" value=A><input pattern="[(]" value=A>'; return [...document.querySelectorAll('input')].map((i) => i.validity.patternMismatch).join()"#,
            "false,false,false",
        ),
        (
            "document.body.innerHTML = '<input type=file required>'; const i = document.body.firstChild; const out = [i.validity.valueMissing]; const t = new DataTransfer(); t.items.add(new File(['a'], 'a.txt')); i.files = t.files; out.push(i.validity.valueMissing, i.files.length); return out.join()",
            "true,false,1",
        ),
        (
            "class K extends HTMLElement { static formAssociated = true; constructor() { super(); this.i = this.attachInternals() } } customElements.define('x-kiln', K); const k = new K(); document.body.append(k); k.i.setValidity({ tooLong: true, badInput: true }, 'cold'); const out = [k.matches(':invalid'), k.i.validity.tooLong, k.i.validity.badInput, k.i.validity.valid, k.i.validationMessage]; k.i.setValidity({}); out.push(k.matches(':valid')); k.i.states.add('open'); out.push(k.matches(':state(open)'), k.i.states.has('open'), k.i.states.size); k.i.states.delete('open'); out.push(k.matches(':state(open)')); try { k.i.setValidity({ badInput: true }) } catch (e) { out.push(e.name) } k.toggleAttribute('disabled', true); out.push(k.i.willValidate); return out.join()",
            "true,true,true,false,cold,true,true,true,1,false,TypeError,false",
        ),
        (
            "document.body.innerHTML = '<div placeholder=a></div><input placeholder=a><input type=checkbox placeholder=a><span open></span><details open></details>'; return document.querySelectorAll(':placeholder-shown').length + ',' + document.querySelectorAll(':open').length",
            "1,1",
        ),
        (
            r#"document.body.innerHTML = '<select required><optgroup><option value="">none</option></optgroup></select><select required size=2><option value="" selected>none</option></select><select required multiple><option value="" selected>none</option></select><select required></select>'; return [...document.querySelectorAll('select')].map((i) => i.validity.valueMissing).join()"#,
            "false,false,false,true",
        ),
        (
            "document.body.innerHTML = '<form><input required></form>'; const i = document.querySelector('input'); const out = [i.matches(':user-invalid')]; document.forms[0].requestSubmit(); out.push(i.matches(':user-invalid')); document.forms[0].reset(); out.push(i.matches(':user-invalid')); return out.join()",
            "false,true,false",
        ),
        (
            "document.head.innerHTML = '<style>input:invalid { color: rgb(1, 2, 3) } input:valid { color: rgb(4, 5, 6) }</style>'; document.body.innerHTML = '<input required>'; const i = document.body.firstChild; const before = getComputedStyle(i).color; i.value = 'a'; return before + getComputedStyle(i).color",
            "rgb(1, 2, 3)rgb(4, 5, 6)",
        ),
    ]);
}
