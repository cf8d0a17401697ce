// Compiles the JSX of one file. `babel` is @babel/core, `preset` babel-preset-solid; types are left in the text.
([babel, preset], { filename, source, typed }) => {
  const { transformSync } = babel.transformSync ? babel : babel.default;
  const solid = typeof preset.default === 'function' ? preset.default : preset.default?.default ?? preset;
  try {
    const out = transformSync(source, {
      filename, sourceFileName: filename, babelrc: false, configFile: false, browserslistConfigFile: false, sourceMaps: true, ast: false, compact: false,
      presets: [[solid, {}]], parserOpts: { plugins: ['jsx', 'decorators-legacy', ...(typed ? ['typescript'] : [])] },
      generatorOpts: { importAttributesKeyword: 'with' },
    });
    return { code: out.code, language: typed ? 'ts' : 'js', map: out.map ? JSON.stringify(out.map) : null };
  } catch (error) {
    const message = String(error.message ?? error).split('\n')[0].replace(`${filename}: `, '').replace(/ \(\d+:\d+\)$/, '');
    return { fault: { message: message || String(error), line: error.loc?.line ?? null, column: error.loc ? error.loc.column + 1 : null } };
  }
};
