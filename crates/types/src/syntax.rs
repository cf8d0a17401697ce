//! Types, expressions and declarations as they are written, in memory of their own: a file is parsed once and read by many.

use std::sync::Arc;

use serde_json::Value as Json;

/// A type as written.
#[derive(Debug)]
pub struct TypeNode {
    /// What it is.
    pub kind: TypeKind,
    /// Where it stands in its file: start and end, in bytes.
    pub span: (u32, u32),
}

/// The kinds of types (TypeScript's grammar).
#[derive(Debug)]
pub enum TypeKind {
    /// `string`, `any`, `never`, …
    Keyword(Keyword),
    /// `'C'`, `600`, `true`
    Literal(Json),
    /// `` `on${Name}` ``: the texts, and the types between them.
    Template(Vec<String>, Vec<Arc<TypeNode>>),
    /// `T[]`
    Array(Arc<TypeNode>),
    /// `[a: T, b?: U, ...V[]]`
    Tuple(Vec<Element>),
    /// `A | B`
    Union(Vec<Arc<TypeNode>>),
    /// `A & B`
    Intersection(Vec<Arc<TypeNode>>),
    /// `{ … }`
    Object(Arc<Shape>),
    /// `(a: T) => U`, or `new (a: T) => U`
    Function(Arc<Signature>),
    /// `Name<T>`, `Space.Name`
    Reference(Vec<String>, Vec<Arc<TypeNode>>),
    /// `import('module').Name<T>`
    Import(String, Vec<String>, Vec<Arc<TypeNode>>),
    /// `typeof name.member`
    Query(Vec<String>),
    /// `typeof import('module').name`
    QueryImport(String, Vec<String>),
    /// `T[K]`
    Indexed(Arc<TypeNode>, Arc<TypeNode>),
    /// `keyof T`
    Keyof(Arc<TypeNode>),
    /// `T extends U ? X : Y`
    Conditional(Arc<[TypeNode; 4]>),
    /// `infer T`, with what it is held to
    Infer(String, Option<Arc<TypeNode>>),
    /// `{ [K in T as N]?: V }`
    Mapped(Arc<Mapped>),
    /// What is not read.
    Other,
}

/// Types that are words of the language.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Keyword {
    /// `any`
    Any,
    /// `unknown`
    Unknown,
    /// `never`
    Never,
    /// `void`
    Void,
    /// `undefined`
    Undefined,
    /// `null`
    Null,
    /// `string`
    String,
    /// `number`
    Number,
    /// `boolean`
    Boolean,
    /// `bigint`
    BigInt,
    /// `symbol`
    Symbol,
    /// `object`
    Object,
}

/// An element of a tuple.
#[derive(Debug)]
pub struct Element {
    /// Its type; of a rest the list.
    pub ty: Arc<TypeNode>,
    /// True for `b?: T`.
    pub optional: bool,
    /// True for `...T[]`.
    pub rest: bool,
}

/// `{ [key in over as name]?: value }`
#[derive(Debug)]
pub struct Mapped {
    /// The name that stands for each key.
    pub key: String,
    /// What the keys are.
    pub over: Arc<TypeNode>,
    /// What each is called instead.
    pub name: Option<Arc<TypeNode>>,
    /// The type of each.
    pub value: Option<Arc<TypeNode>>,
    /// True for `?`, false for `-?`.
    pub optional: Option<bool>,
}

/// What is between braces, or in an interface or a class.
#[derive(Debug, Default)]
pub struct Shape {
    /// Its members.
    pub members: Vec<Member>,
    /// What an index signature gives.
    pub index: Option<Arc<TypeNode>>,
    /// How it can be called.
    pub calls: Vec<Arc<Signature>>,
}

/// A member of an object.
#[derive(Debug)]
pub struct Member {
    /// Its name.
    pub name: String,
    /// Its type, as written or as its value shows.
    pub ty: MemberType,
    /// True for `name?:`.
    pub optional: bool,
    /// Where it stands in its file, in bytes.
    pub at: u32,
}

/// What is known of a member's type.
#[derive(Debug)]
pub enum MemberType {
    /// It is written.
    Written(Arc<TypeNode>),
    /// It is a method.
    Method(Arc<Signature>),
    /// Its value tells.
    Value(Arc<Value>),
    /// Nothing.
    Untyped,
}

/// A function's parameters and what it gives.
#[derive(Debug)]
pub struct Signature {
    /// Its type parameters.
    pub generics: Vec<Generic>,
    /// Its parameters.
    pub parameters: Vec<Parameter>,
    /// What it gives, where that is written.
    pub returns: Option<Arc<TypeNode>>,
    /// What it gives, where an expression is all that it does.
    pub result: Option<Arc<Value>>,
    /// True for `new (…) => T`.
    pub constructs: bool,
    /// Where it stands in its file, in bytes.
    pub span: (u32, u32),
}

/// A parameter of a function.
#[derive(Debug)]
pub struct Parameter {
    /// Its name; empty for a pattern.
    pub name: String,
    /// Its type.
    pub ty: Option<Arc<TypeNode>>,
    /// True where it may be left out.
    pub optional: bool,
    /// True for `...rest`.
    pub rest: bool,
}

/// A type parameter.
#[derive(Debug)]
pub struct Generic {
    /// Its name.
    pub name: String,
    /// What it must extend.
    pub constraint: Option<Arc<TypeNode>>,
    /// What it is when nothing is given.
    pub default: Option<Arc<TypeNode>>,
}

/// An expression, as far as it has a type that the text tells.
#[derive(Debug)]
pub enum Value {
    /// A literal.
    Literal(Json),
    /// `[…]`
    List(Vec<Arc<Value>>),
    /// `{ … }`: members with their place, and what is spread into it.
    Object(Vec<(String, Arc<Value>, u32)>, Vec<Arc<Value>>),
    /// A function.
    Function(Arc<Signature>),
    /// A call: what is called, its type arguments, its arguments.
    Call(Arc<Value>, Vec<Arc<TypeNode>>, Vec<Arc<Value>>),
    /// `new Name(…)`
    New(Vec<String>, Vec<Arc<TypeNode>>),
    /// A name, or a member of one: `styles.button`
    Path(Vec<String>),
    /// A member of something that is no name.
    Member(Arc<Value>, String),
    /// `value as T`
    As(Arc<TypeNode>),
    /// `value as const`
    Const(Arc<Value>),
    /// What is not read.
    Other,
}

/// What a name stands for among types.
#[derive(Debug)]
pub enum TypeDeclaration {
    /// `type Name<T> = …`
    Alias(Vec<Generic>, Arc<TypeNode>),
    /// `interface Name<T> extends … { … }`
    Interface(Vec<Generic>, Vec<Heritage>, Arc<Shape>),
    /// `class Name<T> extends … { … }`
    Class(Vec<Generic>, Option<Heritage>, Arc<Shape>),
    /// `enum Name { … }`
    Enum(Vec<(String, Json)>),
}

/// What an interface or a class extends.
#[derive(Debug)]
pub struct Heritage {
    /// Its name.
    pub path: Vec<String>,
    /// Its type arguments.
    pub arguments: Vec<Arc<TypeNode>>,
}

/// What a name stands for among values.
#[derive(Debug)]
pub struct ValueDeclaration {
    /// Its type, where it is written.
    pub ty: Option<Arc<TypeNode>>,
    /// Its value.
    pub value: Option<Arc<Value>>,
}
