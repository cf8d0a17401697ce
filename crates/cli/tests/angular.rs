//! Angular as it is written: services that are injected, modules, types in decorated places, and what an application passes to its start.

mod studio;

use serde_json::{Value as Json, json};
use studio::{Studio, has_browser, kit, passed_over};

/// The results of a run by component.
fn judged(studio: &Studio, paths: &[&str]) -> Vec<(String, Json)> {
    let results = studio.results(paths);
    let components = results["components"].as_array().expect("a list").iter();
    components.map(|c| (c["component"].as_str().unwrap_or_default().to_owned(), c.clone())).collect()
}

#[track_caller]
fn assert_all_hold(studio: &Studio, paths: &[&str], count: usize) {
    let all = judged(studio, paths);
    assert_eq!(all.len(), count, "{:?}", all.iter().map(|(name, _)| name).collect::<Vec<_>>());
    for (name, component) in all {
        assert_eq!(component["verdict"], "holds", "{name}: {component:#}");
    }
}

/// The register of the kit, with all that it stands on.
fn register() -> Studio {
    let files = [
        "register/angular.json",
        "register/piece-store.ts",
        "register/standalone/app.config.ts",
        "register/standalone/main.ts",
        "register/standalone/kiln-register.ts",
        "register/standalone/piece-row.ts",
        "register/modules/main.ts",
        "register/modules/register.module.ts",
        "register/modules/kiln-register.component.ts",
        "register/modules/kiln-register.component.html",
        "register/modules/piece-row.component.ts",
        "contracts/KilnRegister.contract.yaml",
    ];
    files.iter().fold(Studio::new(), |studio, file| studio.with(file, kit(file)))
}

#[test]
fn a_register_over_http_is_judged_in_both_styles() {
    assert_all_hold(&register(), &["."], 4);
}

/// A component of a module shows parts that its own file does not import: the module that declares it does.
#[test]
fn what_a_module_declares_counts_as_changed() {
    let studio = register().with(".gitignore", "node_modules\n.cache\n");
    for args in [&["init", "-q", "-b", "main"][..], &["add", "."], &["commit", "-q", "-m", "the register"]] {
        studio.git(args);
    }
    let touched = |studio: &Studio| -> Vec<String> {
        judged(studio, &["register/modules", "--since", "main"]).into_iter().map(|(name, _)| name).collect()
    };
    assert_eq!(touched(&studio), Vec::<String>::new());
    let row = "register/modules/piece-row.component.ts";
    let studio = studio.with(row, kit(row) + "\n// changed\n");
    assert_eq!(
        touched(&studio),
        ["register/modules/kiln-register.component.ts#KilnRegisterComponent", "register/modules/piece-row.component.ts#PieceRowComponent"]
    );
}

/// Findings about an element point at its tag in the template, a file of its own.
#[test]
fn elements_are_found_in_their_templates() {
    let page = "register/modules/kiln-register.component.html";
    let template = kit(page) + "\n<section>\n  <button class=\"glaze\" (click)=\"0\"></button>\n</section>\n";
    let studio = register().with(page, template.clone());
    let line = template.lines().position(|l| l.contains("glaze\"")).expect("there") + 1;
    let broken = judged(&studio, &["register/modules"]);
    let (_, component) = broken.iter().find(|(name, _)| name.contains("kiln-register")).expect("there");
    let named = component["findings"].as_array().expect("a list").iter().find(|f| f["rule"] == "access/named").expect("it has no name");
    assert_eq!(named["source"], json!({ "file": page, "line": line, "column": 3 }), "{named:#}");
}

#[test]
fn the_same_in_a_browser() {
    if !has_browser() {
        return passed_over("no browser");
    }
    assert_all_hold(&register(), &["contracts", "--stage", "browser"], 2);
}

const SERVICE: &str = "import { HttpClient } from '@angular/common/http'\nimport { Injectable } from '@angular/core'\n@Injectable({ providedIn: 'root' })\nexport class Entries {\n  constructor(private http: HttpClient) {}\n  all() { return this.http.get<string[]>('/api/entries') }\n}\n";
const LIST: &str = "import { Component, signal } from '@angular/core'\nimport { Entries } from './entries'\n@Component({ selector: 'app-list', template: '<p>{{ all().join() }}</p>' })\nexport class List {\n  all = signal<string[]>([])\n  constructor(entries: Entries) { entries.all().subscribe((all) => this.all.set(all)) }\n}\n";
const CONTRACT: &str = "component: ./list.ts\nnetwork:\n  - on: GET /api/shelves\n    reply: { json: [Mug, Bowl] }\nclauses:\n  - clause: shows the entries\n    expect:\n      - text: p\n        is: Mug,Bowl\n";

#[test]
fn providers_of_the_set_up_reach_the_services_of_the_root() {
    // The set-up is loaded after the compiler: what it names may have to be compiled.
    let studio = Studio::new()
        .with("entries.ts", SERVICE)
        .with("list.ts", LIST)
        .with("list.contract.yaml", CONTRACT)
        .with("fidelon.toml", "[[around]]\nin = \"\"\nsetup = \"setup.ts\"\n")
        .with(
            "setup.ts",
            "import { HTTP_INTERCEPTORS, provideHttpClient, withInterceptorsFromDi } from '@angular/common/http'\nimport { Injectable } from '@angular/core'\n@Injectable()\nexport class Shelves { intercept(request: any, next: any) { return next.handle(request.clone({ url: request.url.replace('entries', 'shelves') })) } }\nexport default [provideHttpClient(withInterceptorsFromDi()), { provide: HTTP_INTERCEPTORS, useClass: Shelves, multi: true }]\n",
        );
    assert_all_hold(&studio, &["list.ts"], 1);
}

#[test]
fn what_an_application_cannot_give_here_does_not_cost_the_others() {
    let studio = Studio::new()
        .with("src/main.ts", "import { bootstrapApplication } from '@angular/platform-browser'\nimport { config } from './config'\nimport { Lamp } from './lamp'\nbootstrapApplication(Lamp, config)\n")
        .with("src/config.ts", "export const config = { providers: [(window as any).kilnServer.provide()] }\n")
        .with("src/lamp.ts", "import { Component } from '@angular/core'\n@Component({ selector: 'app-lamp', template: '<p>lit</p>' })\nexport class Lamp {}\n")
        .with(
            "src/sign.ts",
            "import { Component, InjectionToken, inject } from '@angular/core'\nexport const KILN = new InjectionToken<string>('KILN')\n@Component({ selector: 'app-sign', template: '<p>{{ kiln }}</p>' })\nexport class Sign { kiln = inject(KILN) }\n",
        );
    let all = judged(&studio, &["src"]);
    let of = |name: &str| all.iter().find(|(n, _)| n.contains(name)).map(|(_, c)| c.clone()).expect("judged");
    assert_eq!(of("Lamp")["verdict"], "holds");
    let sign = of("Sign");
    assert_eq!(sign["verdict"], "unjudged", "{sign:#}");
    assert!(sign["reason"]["message"].as_str().is_some_and(|m| m.contains("cannot be judged alone") && m.contains("KILN")), "{sign:#}");
}

#[test]
fn types_are_no_values_wherever_they_stand() {
    let studio = Studio::new()
        .with("kind.ts", "export interface Duty { name: string }\nexport type Colour = 'ash' | 'shino'\nexport enum Rank { Low = 'low', High = 'high' }\n")
        .with(
            "badge.ts",
            "import { Component, EventEmitter, HostListener, Inject, InjectionToken, Input, Optional, Output, Self } from '@angular/core'\nimport { Colour, Duty, Rank } from './kind'\nexport const DUTY = new InjectionToken<Duty>('duty', { providedIn: 'root', factory: () => ({ name: 'fire' }) })\n@Component({ selector: 'app-badge', template: '<p>{{ duty?.name }} {{ colour }} {{ rank }} {{ given.name }}</p>' })\nexport class Badge {\n  @Input() duty?: Duty\n  @Input() colour: Colour = 'ash'\n  @Input() rank: Rank = Rank.Low\n  @Output() chosen = new EventEmitter<Duty>()\n  constructor(@Inject(DUTY) readonly given: Duty, @Optional() @Self() @Inject('none') none: Duty | null) {}\n  @HostListener('click', ['$event']) on(event: Duty) {}\n}\n",
        );
    let [(_, badge)] = judged(&studio, &["badge.ts"]).try_into().expect("one");
    assert_eq!(badge["verdict"], "holds", "{badge:#}");
    // Every member of the enum and every colour is passed.
    let notes = badge["notes"].to_string();
    assert!(!notes.contains("never passed"), "{notes}");
    assert!(badge["combinations"].as_u64().is_some_and(|n| n >= 6), "{badge:#}");
}

#[test]
fn modules_are_found_by_reading_code() {
    let part = |name: &str, class: &str| {
        format!(
            "import {{ Component }} from '@angular/core'\n@Component({{ selector: 'app-{name}', standalone: false, template: '<p *ngIf=\"true\">{name}</p>' }})\nexport class {class} {{}}\n"
        )
    };
    let studio = Studio::new()
        .with("src/parts/lid.ts", part("lid", "Lid"))
        .with("src/parts/vent.ts", part("vent", "Vent"))
        .with("src/parts/index.ts", "import { Lid } from './lid'\nexport const LIDS = [Lid]\nexport * from './lid'\n")
        .with(
            "src/feature/kiln.module.ts",
            "import { CommonModule } from '@angular/common'\nimport { NgModule } from '@angular/core'\nimport { LIDS } from '../parts'\nimport { Vent } from '../parts/vent'\nconst MORE = [Vent] as const\n@NgModule({ declarations: [], imports: [] })\nexport class Nothing {}\n@NgModule({ declarations: [LIDS, ...MORE], imports: [CommonModule] })\nexport class KilnModule {}\n",
        );
    assert_all_hold(&studio, &["src"], 2);
}

#[test]
fn components_of_any_name_are_found() {
    let lamp = |class: &str| {
        format!(
            "import {{ Component }} from '@angular/core'\n@Component({{ selector: 'app-x', template: '<p>lit</p>' }})\nexport class {class} {{}}\n"
        )
    };
    let studio = Studio::new()
        .with("lamp.page.ts", lamp("LampPage"))
        .with("lamp.dialog.ts", lamp("LampDialog"))
        .with("lamp.layout.ts", lamp("LampLayout"))
        .with("lamp.page.spec.ts", lamp("None"));
    assert_all_hold(&studio, &["."], 3);
}

#[test]
fn a_declared_type_of_what_is_made_up_is_no_fault_of_a_style() {
    let studio = Studio::new().with(
        "bar.ts",
        "import { Component, input } from '@angular/core'\nimport { NgStyle } from '@angular/common'\n@Component({ selector: 'app-bar', imports: [NgStyle], template: `<p [ngStyle]=\"{ 'width.px': kmh() }\">wind</p>` })\nexport class Bar { kmh = input(0) }\n",
    );
    assert_all_hold(&studio, &["bar.ts"], 1);
}

#[test]
fn a_change_that_is_not_shown_is_told() {
    let studio = Studio::new().with(
        "clock.ts",
        "import { ChangeDetectionStrategy, Component } from '@angular/core'\n@Component({ selector: 'app-clock', changeDetection: ChangeDetectionStrategy.OnPush, template: '<p>{{ turns }}</p><button type=\"button\" #b>Turn</button>' })\nexport class Clock {\n  turns = 0\n  ngOnInit() { setTimeout(() => { this.turns = 1 }, 100) }\n}\n",
    );
    let [(_, clock)] = judged(&studio, &["clock.ts"]).try_into().expect("one");
    let rules: Vec<&Json> = clock["findings"].as_array().expect("a list").iter().map(|f| &f["rule"]).collect();
    assert_eq!(rules, [&json!("render/current")], "{clock:#}");
}

/// A control of forms, with a handler for each thing that a form does to it.
fn stars(write: &str, pick: &str, button: &str) -> String {
    format!(
        "import {{ Component, Input }} from '@angular/core'\n@Component({{ selector: 'app-stars', template: `@for (n of [1, 2]; track n) {{ <button type=\"button\" {button} [attr.aria-pressed]=\"n === value\" (click)=\"pick(n)\">{{{{ n }}}} stars</button> }}` }})\nexport class Stars {{\n  @Input() label = 'Stars'\n  value = 0\n  off = false\n  private change = (value: number) => {{}}\n  writeValue(value: number) {{ {write} }}\n  registerOnChange(change: (value: number) => void) {{ this.change = change }}\n  registerOnTouched() {{}}\n  setDisabledState(off: boolean) {{ this.off = off }}\n  pick(n: number) {{ {pick} }}\n}}\n"
    )
}

#[test]
fn a_control_of_forms_is_two_way() {
    let rules = |source: String| {
        let studio = Studio::new().with("stars.ts", source);
        let [(_, component)] = judged(&studio, &["stars.ts"]).try_into().expect("one");
        let found = component["findings"].as_array().expect("a list").iter();
        found.map(|f| f["rule"].as_str().unwrap_or_default().to_owned()).collect::<Vec<_>>()
    };
    let (write, pick, button) = ("this.value = value ?? 0", "this.value = n; this.change(n)", "[disabled]=\"off\"");
    assert_eq!(rules(stars(write, pick, button)), Vec::<String>::new());
    let echoes = format!("{write}; this.change(value)");
    assert_eq!(rules(stars(&echoes, pick, button)), ["binding/silent"]);
    assert_eq!(rules(stars("this.value ||= value", pick, button)), ["binding/shows"]);
    assert_eq!(rules(stars(write, pick, "")), ["event/inert"]);
}

#[test]
fn the_page_is_built_as_the_workspace_says() {
    const DESCRIBED: &str = r#"{ "projects": { "studio": { "root": "", "architect": {
      "build": { "options": {
        "polyfills": [],
        "styles": ["src/page.scss", "src/broken.scss", { "input": "src/later.css", "inject": false }],
        "stylePreprocessorOptions": { "includePaths": ["src/theme"] }
      } },
      "test": { "options": { "fileReplacements": [{ "replace": "src/kiln.ts", "with": "src/kiln.cold.ts" }] } }
    } } } }"#;
    let studio = Studio::new()
        .with("angular.json", DESCRIBED)
        .with("src/theme/_tones.scss", "$ash: rgb(1, 2, 3);\n")
        .with("src/page.scss", "@use 'tones';\n.ash { color: tones.$ash; }\n")
        .with("src/broken.scss", "@use 'nowhere';\n")
        .with("src/later.css", ".ash { display: none }\n")
        .with("src/kiln.ts", "export const heat = 1240\n")
        .with("src/kiln.cold.ts", "export const heat = 20\n")
        .with(
            "src/sign.ts",
            "import { Component } from '@angular/core'\nimport { heat } from './kiln'\n@Component({ selector: 'app-sign', template: '<p class=\"ash\">{{ heat }}</p><i>i</i>', styleUrl: './sign.scss' })\nexport class Sign { heat = heat }\n",
        )
        .with("src/sign.scss", "@use 'tones';\ni { color: tones.$ash; }\n")
        .with(
            "src/sign.contract.yaml",
            "component: ./sign.ts\nclauses:\n  - clause: it is shown as the page has it\n    expect:\n      - { text: .ash, is: '20' }\n      - { style: .ash, property: color, is: 'rgb(1, 2, 3)' }\n      - { style: i, property: color, is: 'rgb(1, 2, 3)' }\n      - visible: .ash\n",
        );
    assert_all_hold(&studio, &["src"], 1);
    let shown = studio.run(&["render", "src/sign.ts"]);
    assert!(shown.out.contains("class=\"ash\">20</p>"), "{}", shown.out);
    assert!(shown.err.contains("left out") && shown.err.contains("src/broken.scss"), "{}", shown.err);
    // What stands for a file is part of what was judged: another one is judged anew.
    std::fs::write(studio.path("angular.json"), DESCRIBED.replace("kiln.cold.ts", "kiln.ts")).expect("written");
    let [(_, sign)] = judged(&studio, &["src"]).try_into().expect("one");
    assert_eq!(sign["verdict"], "broken", "{sign:#}");
}

#[test]
fn a_fault_of_a_template_is_placed_in_it() {
    let class = |name: &str, template: &str| {
        format!(
            "import {{ Component, Input }} from '@angular/core'\n@Component({{ selector: 'app-{name}', {template} }})\nexport class {name} {{ @Input() kiln?: {{ heat: {{ now: number }} }} }}\n"
        )
    };
    let studio = Studio::new()
        .with("Inside.ts", class("Inside", "template: `\n  <p>fine</p>\n  <b>{{ kiln!.heat.now }}</b>`"))
        .with("Beside.ts", class("Beside", "templateUrl: './beside.html'"))
        .with("beside.html", "<p>fine</p>\n@if (true) {\n  <b [title]=\"kiln!.heat.now\">b</b>\n}\n");
    for (file, place) in [("Inside.ts", ("Inside.ts", 4)), ("Beside.ts", ("beside.html", 3))] {
        let [(_, broken)] = judged(&studio, &[file]).try_into().expect("one");
        assert_eq!(broken["verdict"], "broken", "{broken:#}");
        let source = &broken["findings"][0]["source"];
        assert_eq!((source["file"].as_str(), source["line"].as_u64()), (Some(place.0), Some(place.1)), "{broken:#}");
    }
}

#[test]
fn who_counts_on_an_answer_says_which_reply_is_missing() {
    let studio = Studio::new()
        .with("entries.ts", SERVICE)
        .with("list.ts", LIST)
        .with("fidelon.toml", "[[around]]\nin = \"\"\nsetup = \"setup.ts\"\n")
        .with("setup.ts", "import { provideHttpClient } from '@angular/common/http'\nexport default [provideHttpClient()]\n");
    let [(_, list)] = judged(&studio, &["list.ts"]).try_into().expect("one");
    assert_eq!(list["verdict"], "unjudged", "{list:#}");
    let why = list["reason"]["message"].as_str().unwrap_or_default();
    assert!(
        why.contains("nothing answers its request GET /api/entries") && why.contains("HttpErrorResponse: ") && why.contains("`network`"),
        "{why}"
    );
}

#[test]
fn directives_are_judged_on_an_element_that_their_selector_asks_for() {
    let with = |name: &str, selector: &str, body: &str| {
        format!(
            "import {{ Directive, ElementRef, HostListener, Input, TemplateRef, ViewContainerRef, inject, input, output }} from '@angular/core'\n@Directive({{ selector: '{selector}' }})\nexport class {name} {{\n{body}\n}}\n"
        )
    };
    let studio = Studio::new()
        // An input that the selector names is always passed, and what is pressed is a button.
        .with("Hint.ts", with("Hint", "[kilnHint]", "readonly kilnHint = input('none')\nreadonly shown = output<string>()\n@HostListener('click') tell() { this.shown.emit(this.kilnHint()) }"))
        .with("Digits.ts", with("Digits", "input[kilnDigits]", "@HostListener('input', ['$event.target']) clean(field: HTMLInputElement) { field.value = field.value.replace(/\\D/g, '') }"))
        .with("Unless.ts", with("Unless", "[kilnUnless]", "private template = inject(TemplateRef)\nprivate container = inject(ViewContainerRef)\n@Input() set kilnUnless(hidden: boolean) { this.container.clear(); if (!hidden) this.container.createEmbeddedView(this.template) }"))
        // One that others extend.
        .with("Base.ts", "import { Directive } from '@angular/core'\n@Directive()\nexport abstract class Base {}\n")
        .with("Tone.ts", with("Tone", "[kilnTone]", "@Input() kilnTone = 'ash'\nprivate element = inject(ElementRef).nativeElement\nngOnInit() { this.element.classList.add(`tone-${this.kilnTone}`) }"));
    let all = judged(&studio, &["."]);
    let verdicts: Vec<(&str, &str)> = all.iter().map(|(name, c)| (name.as_str(), c["verdict"].as_str().unwrap_or_default())).collect();
    let wanted = [("Digits.ts#Digits", "holds"), ("Hint.ts#Hint", "holds"), ("Tone.ts#Tone", "broken"), ("Unless.ts#Unless", "holds")];
    assert_eq!(verdicts, wanted);
    let rules: Vec<&str> = all[2].1["findings"].as_array().expect("findings").iter().filter_map(|f| f["rule"].as_str()).collect();
    assert_eq!(rules, ["prop/live"], "{:#}", all[2].1);
    let shown = |file: &str, with: &[&str]| studio.run(&[&["render", file], with].concat()).out;
    assert!(shown("Digits.ts", &[]).contains("<input aria-label=\"Content\" kilndigits=\"\""));
    assert!(shown("Hint.ts", &["--with", "kilnHint=hot"]).contains("<button type=\"button\">Content</button>"));
    assert!(shown("Unless.ts", &["--with", "kilnUnless=false"]).contains("<p>Content</p>"));
    assert!(!shown("Unless.ts", &["--with", "kilnUnless=true"]).contains("Content"));
    // What stands around it is nobody's to name, and its text is none that a prop may have.
    let drafted = studio.run(&["draft", "Hint.ts"]);
    let contract = std::fs::read_to_string(studio.path("Hint.contract.yaml")).expect("drafted");
    assert!(drafted.code == 0 && !contract.contains("stage-") && !contract.contains("text: div"), "{}{contract}", drafted.err);
}

/// What a router is to a page, in as little as that takes: the real one is the project's own.
const ROUTER: &str = r"import { Injectable, InjectionToken, inject } from '@angular/core'
export const ROUTES = new InjectionToken<any[]>('ROUTES')
class Told { constructor(public value: any) {} subscribe(hear: (value: any) => void) { hear(this.value) } }
export class UrlSegment { constructor(public path: string, public parameters: object) {} }
export class ActivatedRouteSnapshot { url: UrlSegment[] = []; params = {}; data = {} }
@Injectable({ providedIn: 'root' })
export class ActivatedRoute { snapshot = new ActivatedRouteSnapshot(); params: any = new Told({}); url: any = new Told([]) }
@Injectable({ providedIn: 'root' })
export class Router { config = inject(ROUTES, { optional: true }) ?? [] }
";

#[test]
fn a_page_stands_at_its_route() {
    let page = |selector: &str, class: &str, route: &str, template: &str| {
        format!(
            "import {{ Component, inject }} from '@angular/core'\nimport {{ ActivatedRoute }} from '@angular/router'\n@Component({{ selector: '{selector}', template: '{template}' }})\nexport class {class} {{ {route} }}\n"
        )
    };
    let studio = Studio::new()
        .with("tsconfig.json", "{ \"compilerOptions\": { \"experimentalDecorators\": true, \"emitDecoratorMetadata\": true, \"baseUrl\": \".\", \"paths\": { \"@angular/router\": [\"router.ts\"] } } }")
        .with("router.ts", ROUTER)
        .with(
            "src/main.ts",
            "import { bootstrapApplication } from '@angular/platform-browser'\nimport { ROUTES } from '@angular/router'\nimport { routes } from './routes'\nimport { Sign } from './sign'\nbootstrapApplication(Sign, { providers: [{ provide: ROUTES, useValue: routes }] })\n",
        )
        .with(
            "src/routes.ts",
            "import { Sign } from './sign'\nexport const routes = [\n  { path: 'broken', loadComponent: () => import('./nobody').then((m) => m.Nobody) },\n  { path: 'sign-in', component: Sign },\n  { path: 'shelves', children: [{ path: ':shelf', data: { tall: true }, loadComponent: () => import('./shelf/shelf').then((m) => m.Shelf) }] },\n  { path: 'kilns/:kilnId', loadChildren: () => import('./kiln/routes').then((m) => m.routes) },\n]\n",
        )
        // Its constructor asks.
        .with("src/sign.ts", page("app-sign", "Sign", "word: string; constructor(route: ActivatedRoute) { this.word = route.snapshot.url.at(-1)!.path }", "<p>{{ word }}</p>"))
        // It is loaded when its address is asked for.
        .with("src/shelf/shelf.ts", page("app-shelf", "Shelf", "route = inject(ActivatedRoute) as any; name = this.route.snapshot.params.shelf.toUpperCase() + this.route.snapshot.data.tall", "<p>{{ name }}</p>"))
        .with("src/kiln/routes.ts", "import { Heat } from './heat'\nexport const routes = [{ path: '', component: Heat }]\n")
        .with("src/kiln/heat.ts", page("app-heat", "Heat", "id = 0; constructor(route: ActivatedRoute) { (route as any).params.subscribe((all: any) => { if (!(+all.kilnId > 0)) throw new Error(`no kiln: ${all.kilnId}`); this.id = +all.kilnId }) }", "<p>{{ id }}</p>"));
    assert_all_hold(&studio, &["src"], 3);
    let shown = studio.run(&["render", "src/shelf/shelf.ts", "--as", "outline"]);
    assert!(shown.out.contains("MUGtrue"), "{}{}", shown.out, shown.err);
    let shown = studio.run(&["render", "src/sign.ts", "--as", "outline"]);
    assert!(shown.out.contains("sign-in"), "{}{}", shown.out, shown.err);
}
