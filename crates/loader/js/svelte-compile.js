// Compiles one component, or one module that uses runes. `compiler` is the module svelte/compiler.
([compiler], { filename, rootDir, source }) => {
  const place = (error) => ({
    message: String(error.message ?? error).replace(/\s*https:\/\/svelte\.dev\S*/g, ''),
    line: error.start?.line ?? error.position?.line ?? null,
    // Columns are counted from 0.
    column: error.start ? error.start.column + 1 : null,
  });
  // A CommonJS module may come with its exports as the default one.
  const { compile, compileModule, VERSION } = compiler.compile ? compiler : compiler.default;
  if (Number.parseInt(VERSION, 10) < 5) return { fault: { message: `Svelte ${VERSION} is installed: components run with Svelte 5, which also takes the form of Svelte 4` } };
  const options = { filename, rootDir, generate: 'client', dev: true };
  try {
    if (!filename.endsWith('.svelte')) {
      const { js } = compileModule(source, options);
      return { code: js.code, language: 'js', map: js.map ? JSON.stringify(js.map) : null };
    }
    // The class of scoped styles follows from the styles alone: the same on every machine.
    const { js, css } = compile(source, { ...options, css: 'external', cssHash: ({ hash, css: text }) => `svelte-${hash(text)}` });
    const styles = css?.code ? `\nglobalThis.__styles?.(${JSON.stringify(filename)}, ${JSON.stringify(css.code.replace(/\/\*# sourceMappingURL=.*\*\//s, ''))});\n` : '';
    return { code: js.code + styles, language: 'js', map: js.map ? JSON.stringify(js.map) : null };
  } catch (error) {
    return { fault: place(error) };
  }
};
