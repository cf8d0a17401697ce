// Compiles one single-file component. `compiler` is the module @vue/compiler-sfc, `readFile` gives a text or null,
// `typesOf` the file that declares the types of a specifier, or null.
([compiler], { filename, id, source: written }, readFile, typesOf) => {
  // The compiler reads imported types by relative path only. So where a file names a package or an alias it is shown the way
  // to the file that this means; in what it gives back the names are as they were.
  const renamed = new Map();
  const way = (from, to) => {
    const [a, b] = [from.split('/').slice(0, -1), to.split('/')];
    let same = 0;
    while (same < a.length && same < b.length - 1 && a[same] === b[same]) same++;
    return './' + '../'.repeat(a.length - same) + b.slice(same).join('/');
  };
  const withWays = (text, file) => text.replace(/(\bfrom\s*)(['"])([^'"\s]+)\2/g, (all, head, quote, specifier) => {
    if (/^(\.{0,2}\/|\.{1,2}$)/.test(specifier)) return all;
    const target = typesOf(file, specifier);
    if (!target) return all;
    const relative = way(file, target);
    if (file === filename) renamed.set(relative, specifier);
    return head + quote + relative + quote;
  });
  const withNames = (code) => {
    for (const [relative, specifier] of renamed) code = code.replaceAll(`'${relative}'`, `'${specifier}'`).replaceAll(`"${relative}"`, `"${specifier}"`);
    return code;
  };
  const source = /\bdefine(Props|Emits|Slots|Model)\s*</.test(written) ? withWays(written, filename) : written;
  const place = (error, offsetLines = 0) => ({
    message: error.message ?? String(error),
    line: error.loc ? (error.loc.start?.line ?? error.loc.line) + offsetLines : null,
    column: error.loc ? (error.loc.start?.column ?? error.loc.column + 1) : null,
  });
  const { descriptor, errors } = compiler.parse(source, { filename, sourceMap: true });
  if (errors.length) return { fault: place(errors[0]) };
  const markup = descriptor.template?.lang;
  if (markup && markup !== 'html') {
    return { fault: { message: `its template is written in ${markup}, which is not compiled here: components with templates in HTML are judged`, line: descriptor.template.loc.start.line, column: 1 } };
  }
  const reads = [];
  const fs = {
    fileExists: (file) => readFile(file) !== null,
    readFile: (file) => {
      const text = readFile(file);
      if (text !== null && !reads.includes(file)) reads.push(file);
      return text === null ? undefined : withWays(text, file);
    },
  };
  const scopeId = `data-v-${id}`;
  const scoped = descriptor.styles.some((s) => s.scoped);
  const language = descriptor.scriptSetup?.lang ?? descriptor.script?.lang ?? 'js';
  const typed = language === 'ts' || language === 'tsx';
  const compilerOptions = { scopeId: scoped ? scopeId : undefined, expressionPlugins: typed ? ['typescript'] : [] };
  const templateOptions = { id: scopeId, filename, scoped, slotted: descriptor.slotted, isProd: false, compilerOptions };
  let code = 'const __sfc = {};';
  let map = null;
  let bindings;
  try {
    if (descriptor.script || descriptor.scriptSetup) {
      const script = compiler.compileScript(descriptor, {
        id: scopeId, inlineTemplate: !!descriptor.scriptSetup, genDefaultAs: '__sfc', fs, templateOptions,
      });
      code = script.content;
      map = script.map ? JSON.stringify(script.map) : null;
      bindings = script.bindings;
    }
  } catch (error) {
    // Babel counts from the start of the script block and 0 for columns; the message may carry its own place.
    const block = descriptor.scriptSetup ?? descriptor.script;
    const babel = error.loc && error.loc.line !== undefined && error.loc.start === undefined;
    const fault = place(error, babel ? block.loc.start.line - 1 : 0);
    fault.message = fault.message.replace(/ \(\d+:\d+\)$/m, '');
    return { fault };
  }
  if (descriptor.template && !descriptor.scriptSetup) {
    const template = compiler.compileTemplate({
      ...templateOptions, source: descriptor.template.content, inMap: descriptor.template.map, ast: descriptor.template.ast,
      compilerOptions: { ...compilerOptions, bindingMetadata: bindings },
    });
    if (template.errors.length) return { fault: typeof template.errors[0] === 'string' ? { message: template.errors[0] } : place(template.errors[0]) };
    code += `\n${template.code.replace(/\nexport (function|const) render/, '\n$1 render')}\n__sfc.render = render;`;
  }
  if (scoped) code += `\n__sfc.__scopeId = ${JSON.stringify(scopeId)};`;
  code += `\n__sfc.__file = ${JSON.stringify(filename)};`;
  const modules = {};
  for (const style of descriptor.styles) {
    if (style.lang && style.lang !== 'css' && style.lang !== 'postcss') continue;
    const out = compiler.compileStyle({ source: style.content, filename, id: scopeId, scoped: style.scoped, isProd: false });
    if (out.errors.length) return { fault: place(out.errors[0]) };
    code += `\nglobalThis.__styles?.(${JSON.stringify(filename)}, ${JSON.stringify(out.code)});`;
    if (style.module) {
      const names = {};
      for (const [, name] of style.content.matchAll(/\.([A-Za-z_][\w-]*)/g)) names[name] = name;
      modules[style.module === true ? '$style' : style.module] = names;
    }
  }
  if (Object.keys(modules).length) code += `\n__sfc.__cssModules = ${JSON.stringify(modules)};`;
  code += '\nexport default __sfc;\n';
  // `v-model="(heat as any)"` of what only can be read is a fault when the event comes, as in browsers, and not before.
  const target = /\(\(_unref\([^()\n]{1,200}\)(?: as [^()\n]{1,200})?\)\) = \$event|\(_unref\([^()\n]{1,200}\)(?: as [^()\n]{1,200})?\) = \$event/g;
  code = code.replace(target, "(() => { throw new ReferenceError('Invalid left-hand side in assignment'); })()");
  // `v-model="(heat as any)"` comes to `((heat as any)) = …`, a target that only TypeScript's own parser takes with two brackets.
  if (typed) code = code.replace(/\(\(((?:[^()\n]|\([^()\n]{0,200}\)){1,200}? as [^()\n]{1,200})\)\) = \$event/g, '($1) = $event');
  return { code: withNames(code), language, map, reads };
};
