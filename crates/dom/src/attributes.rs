//! The content attributes that HTML knows, by element (HTML, "Attributes" index; SVG and MathML elements are not judged).

use crate::element::{Element, Namespace};

/// Attributes of every element (HTML §3.2.6, with RDFa and microdata, and what all browsers still read).
const GLOBAL: &str = "accesskey autocapitalize autocorrect autofocus class contenteditable dir draggable enterkeyhint exportparts hidden id inert inputmode is \
    itemid itemprop itemref itemscope itemtype lang nonce part popover role slot spellcheck style tabindex title translate writingsuggestions \
    about datatype prefix property resource typeof vocab xmlns align bgcolor";

/// Elements without attributes of their own (HTML, "Elements" index, with those that are obsolete and still rendered).
const PLAIN: &str = "abbr acronym address article aside b bdi bdo big br caption center cite code dd dfn dir div dl dt em figcaption figure footer \
    frame frameset h1 h2 h3 h4 h5 h6 head header hgroup html i kbd main mark marquee menu nav nobr noembed noframes noscript p picture plaintext pre \
    rb rp rt rtc ruby s samp search section small span strike strong style sub summary sup table tbody td template tfoot th thead title tr tt u ul var \
    wbr xmp";

/// True for the name of an element that HTML knows.
pub fn is_element(local: &str) -> bool {
    OWN.iter().any(|(name, _)| *name == local) || PLAIN.split_ascii_whitespace().any(|name| name == local)
}

/// Attributes of some elements.
const OWN: &[(&str, &str)] = &[
    ("a", "href target download ping rel hreflang type referrerpolicy name coords shape charset rev"),
    ("area", "alt coords shape href target download ping rel referrerpolicy"),
    ("audio", "src crossorigin preload autoplay loop muted controls controlslist"),
    ("base", "href target"),
    ("blockquote", "cite"),
    ("body", "alink background link text vlink"),
    ("br", "clear"),
    (
        "button",
        "command commandfor disabled form formaction formenctype formmethod formnovalidate formtarget name popovertarget popovertargetaction type value",
    ),
    ("canvas", "width height"),
    ("col", "span width"),
    ("colgroup", "span width"),
    ("data", "value"),
    ("del", "cite datetime"),
    ("details", "name open"),
    ("dialog", "open closedby"),
    ("embed", "src type width height"),
    ("fieldset", "disabled form name"),
    ("font", "color face size"),
    ("form", "accept-charset action autocomplete enctype method name novalidate target rel"),
    ("hr", "color noshade size width"),
    (
        "iframe",
        "src srcdoc name sandbox allow allowfullscreen width height referrerpolicy loading frameborder scrolling marginheight marginwidth",
    ),
    (
        "img",
        "alt src srcset sizes crossorigin usemap ismap width height referrerpolicy decoding loading fetchpriority border name longdesc",
    ),
    (
        "input",
        "accept alpha alt autocomplete capture checked colorspace dirname disabled form formaction formenctype formmethod formnovalidate formtarget height list max maxlength \
         min minlength multiple name pattern placeholder popovertarget popovertargetaction readonly required size src step type value width incremental",
    ),
    ("ins", "cite datetime"),
    ("label", "for form"),
    ("legend", "align"),
    ("li", "value type"),
    (
        "link",
        "href crossorigin rel media integrity hreflang type referrerpolicy sizes imagesrcset imagesizes as blocking color disabled fetchpriority",
    ),
    ("map", "name"),
    ("meta", "name http-equiv content charset media scheme"),
    ("meter", "value min max low high optimum"),
    ("object", "data type name form width height"),
    ("ol", "reversed start type"),
    ("optgroup", "disabled label"),
    ("option", "disabled label selected value"),
    ("output", "for form name"),
    ("param", "name value"),
    ("pre", "width"),
    ("progress", "value max"),
    ("q", "cite"),
    ("script", "src type nomodule async defer crossorigin integrity referrerpolicy blocking fetchpriority charset language"),
    ("select", "autocomplete disabled form multiple name required size"),
    ("slot", "name"),
    ("source", "type media src srcset sizes width height"),
    ("style", "media blocking type"),
    ("table", "border cellpadding cellspacing width summary frame rules"),
    ("tbody", "valign"),
    ("td", "colspan rowspan headers abbr axis height width valign nowrap scope"),
    ("template", "shadowrootmode shadowrootdelegatesfocus shadowrootclonable shadowrootserializable shadowrootcustomelementregistry"),
    ("textarea", "autocomplete cols dirname disabled form maxlength minlength name placeholder readonly required rows wrap"),
    ("tfoot", "valign"),
    ("th", "colspan rowspan headers scope abbr axis height width valign nowrap"),
    ("thead", "valign"),
    ("time", "datetime"),
    ("tr", "valign"),
    ("track", "default kind label src srclang"),
    ("ul", "type compact"),
    (
        "video",
        "src crossorigin poster preload autoplay playsinline loop muted controls controlslist disablepictureinpicture disableremoteplayback width height",
    ),
];

fn lists(list: &str, name: &str) -> bool {
    list.split_ascii_whitespace().any(|n| n == name)
}

/// Whether HTML knows an attribute on this element. Custom elements and those of other languages know their own.
pub fn is_known(element: &Element, name: &str) -> bool {
    if element.namespace != Namespace::Html || element.local.contains('-') || element.has_attr("is") {
        return true;
    }
    let free = name.starts_with("data-") || name.starts_with("aria-") || name.starts_with("on") || name.contains(':');
    free || lists(GLOBAL, name) || OWN.iter().any(|(tag, own)| **tag == *element.local && lists(own, name))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn attributes_are_known_where_html_has_them() {
        for (tag, name, known) in [
            ("input", "maxlength", true),
            ("p", "maxlength", false),
            ("p", "title", true),
            ("p", "data-kiln", true),
            ("p", "onclick", true),
            ("p", "kiln", false),
            ("kiln-dial", "kiln", true),
            ("label", "for", true),
            ("div", "label", false),
        ] {
            assert_eq!(is_known(&Element::new(Namespace::Html, tag), name), known, "{tag} {name}");
        }
    }
}
