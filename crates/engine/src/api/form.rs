//! Live state of form controls, labels, focus.

use fidelon_dom::inputs::{self, Steps};
use fidelon_dom::{Document, Mark, NodeId, Overlay, form, validity};

use super::{Natives, number, numbers, reads, writes};

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    register_inputs(n)?;
    reads!(n,
        "value" => |doc, id| form::value(&doc, id);
        "dirty_value" => |doc, id| doc.element(id).is_some_and(|e| e.form.value.is_some());
        "checked" => |doc, id| doc.element(id).is_some_and(form::is_checked);
        "indeterminate" => |doc, id| doc.element(id).is_some_and(|e| e.form.indeterminate);
        "selected" => |doc, id| form::is_selected(&doc, id);
        "option_text" => |doc, id| form::option_text(&doc, id);
        "options" => |doc, id| numbers(form::options(&doc, id));
        "selected_options" => |doc, id| numbers(form::selected_options(&doc, id));
        "input_type" => |doc, id| doc.element(id).map_or(String::new(), fidelon_dom::Element::input_type);
        "disabled" => |doc, id| form::is_disabled(&doc, id);
        "can_be_disabled" => |doc, id| doc.element(id).is_some_and(form::can_be_disabled);
        "has_text_value" => |doc, id| doc.element(id).is_some_and(form::has_text_value);
        "editable" => |doc, id| form::is_editable(&doc, id);
        "focusable" => |doc, id| form::is_focusable(&doc, id);
        "hidden" => |doc, id| form::is_hidden(&doc, id);
        "rendered" => |doc, id| form::is_rendered(&doc, id);
        "overlay" => |doc, id| doc.element(id).and_then(|e| e.overlay).map_or(0, |o| if o == Overlay::Modal { 1 } else { 2 });
        "radio_group" => |doc, id| numbers(form::radio_group(&doc, id));
        "form_owner" => |doc, id| number(form::form_owner(&doc, id));
        "form_elements" => |doc, id| numbers(form::form_elements(&doc, id));
        "default_button" => |doc, id| number(form::default_button(&doc, id));
        "labelable" => |doc, id| doc.element(id).is_some_and(form::is_labelable);
        "labels" => |doc, id| numbers(form::labels(&doc, id));
        "labeled_control" => |doc, id| number(form::labeled_control(&doc, id));
        "custom_validity" => |doc, id| doc.element(id).map_or(String::new(), |e| e.form.custom_validity.clone());
        "selection" => |doc, id| {
            let end = u32::try_from(form::value(&doc, id).encode_utf16().count()).unwrap_or(u32::MAX);
            let (a, b) = doc.element(id).and_then(|e| e.form.selection).unwrap_or((0, 0));
            let direction = doc.element(id).map_or(0, |e| u32::from(e.internal.is(Mark::Forward)) + 2 * u32::from(e.internal.is(Mark::Backward)));
            vec![a.min(end), b.min(end), direction]
        };
    );
    writes!(n,
        "set_value" => |doc, id, value: String| set_value(&mut doc, id, value);
        "set_checked" => |doc, id, on: bool| set_checked(&mut doc, id, on);
        "set_indeterminate" => |doc, id, on: bool| if let Some(e) = doc.element_mut(id) { e.form.indeterminate = on };
        "set_custom_validity" => |doc, id, text: String| if let Some(e) = doc.element_mut(id) { e.form.custom_validity = text };
        "set_selection" => |doc, id, start: u32, end: u32, direction: u32| if let Some(e) = doc.element_mut(id) {
            e.form.selection = Some((start, end));
            e.internal.mark(Mark::Forward, direction == 1);
            e.internal.mark(Mark::Backward, direction == 2);
        };
        "choose" => |doc, id, on: bool| form::choose(&mut doc, id, on);
        "reset_control" => |doc, id| reset(&mut doc, id);
    );
    let host = n.host.clone();
    n.add("overlays", move || numbers(host.doc.borrow().overlays().iter().copied()))?;
    let host = n.host.clone();
    n.add("set_overlay", move |id: u32, kind: u32| {
        let overlay = match kind {
            1 => Some(Overlay::Modal),
            2 => Some(Overlay::Popover),
            _ => None,
        };
        let mut doc = host.doc.borrow_mut();
        let id = super::known(&doc, id);
        doc.set_overlay(id, overlay);
    })?;
    let host = n.host.clone();
    n.add("focused", move || number(host.doc.borrow().focused))?;
    let host = n.host.clone();
    n.add("set_pointed", move |pointed: bool| host.doc.borrow_mut().pointed = pointed)?;
    let host = n.host.clone();
    n.add("set_focused", move |id: i64| host.doc.borrow_mut().focused = u32::try_from(id).ok().map(NodeId))
}

/// What is wrong with values, the numbers behind them, and what happened to a control (HTML §4.10.20).
fn register_inputs(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    reads!(n,
        "faults" => |doc, id| validity::faults(&doc, id).0;
        "validation_message" => |doc, id| fidelon_dom::validation_message(&doc, id);
        "validates" => |doc, id| validity::is_candidate(&doc, id);
        "input_number" => |doc, id| doc.element(id).and_then(|e| inputs::number(&e.input_type(), &form::value(&doc, id))).unwrap_or(f64::NAN);
        "has_steps" => |doc, id| doc.element(id).filter(|e| e.is_html("input")).and_then(Steps::of).is_some_and(|s| s.step.is_some());
    );
    writes!(n,
        "set_input_number" => |doc, id, number: f64| {
            let text = doc.element(id).map(|e| inputs::number_text(&e.input_type(), number));
            set_value(&mut doc, id, text.unwrap_or_default());
        };
        "step" => |doc, id, steps: f64| step(&mut doc, id, steps);
        "mark_typed" => |doc, id, unreadable: bool| if let Some(e) = doc.element_mut(id) {
            e.internal.mark(Mark::Typed, true);
            e.internal.mark(Mark::Unreadable, unreadable);
        };
        "mark_judged" => |doc, id| if let Some(e) = doc.element_mut(id) { e.internal.mark(Mark::Judged, true) };
        "mark_filled" => |doc, id, on: bool| if let Some(e) = doc.element_mut(id) { e.internal.mark(Mark::Filled, on) };
        "set_faults" => |doc, id, faults: u32| if let Some(e) = doc.element_mut(id) { e.internal.faults = u16::try_from(faults).unwrap_or(0) };
        "set_states" => |doc, id, states: String| if let Some(e) = doc.element_mut(id) {
            e.internal.states = states.split(' ').filter(|s| !s.is_empty()).map(Into::into).collect();
        };
    );
    Ok(())
}

/// The `value` setter (HTML §4.10.5.4): buttons and the like write the attribute; a changed text moves the cursor to its end.
fn set_value(doc: &mut Document, id: NodeId, value: String) {
    let Some(element) = doc.element_mut(id) else { return };
    element.internal.mark(Mark::Typed, false);
    element.internal.mark(Mark::Unreadable, false);
    if element.is_html("input") {
        let kind = element.input_type();
        if ["checkbox", "radio", "hidden", "submit", "image", "reset", "button"].contains(&kind.as_str()) {
            element.set_attr("value", &value);
            return;
        }
        let value = inputs::sanitize(&kind, &value, element);
        if element.form.value.as_deref() != Some(&value) {
            let end = u32::try_from(value.encode_utf16().count()).unwrap_or(u32::MAX);
            element.form.selection = Some((end, end));
        }
        element.form.value = Some(value);
    } else {
        let value = value.replace("\r\n", "\n").replace('\r', "\n");
        let end = u32::try_from(value.encode_utf16().count()).unwrap_or(u32::MAX);
        if element.form.value.as_deref() != Some(&value) {
            element.form.selection = Some((end, end));
        }
        element.form.value = Some(value);
    }
}

/// Moves an input by so many steps (HTML §4.10.5.3.11, `stepUp`).
fn step(doc: &mut Document, id: NodeId, steps: f64) {
    let Some((element, from)) = doc.element(id).map(|e| (e, inputs::number(&e.input_type(), &form::value(doc, id)).unwrap_or(0.0))) else {
        return;
    };
    let kind = element.input_type();
    if let Some(value) = Steps::of(element).and_then(|s| s.moved(from, steps)) {
        set_value(doc, id, inputs::number_text(&kind, value));
    }
}

/// Checking a radio button unchecks the others of its group.
fn set_checked(doc: &mut Document, id: NodeId, on: bool) {
    let is_radio = doc.element(id).is_some_and(|e| e.input_type() == "radio");
    if on && is_radio {
        for other in form::radio_group(doc, id) {
            if let Some(e) = doc.element_mut(other) {
                e.form.checked = Some(false);
            }
        }
    }
    if let Some(e) = doc.element_mut(id) {
        e.form.checked = Some(on);
    }
}

fn reset(doc: &mut Document, id: NodeId) {
    let options = if doc.is_html(id, "select") { form::options(doc, id) } else { Vec::new() };
    for node in options.into_iter().chain([id]) {
        if let Some(e) = doc.element_mut(node) {
            let (custom_validity, associated) = (std::mem::take(&mut e.form.custom_validity), e.form.associated);
            e.form = fidelon_dom::FormState { custom_validity, associated, ..fidelon_dom::FormState::default() };
            e.internal.marks = 0;
        }
    }
}
