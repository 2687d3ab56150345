/** What a person may read of the sources: string literals with a space in them, and the text of templates. */
import {readdirSync, readFileSync} from 'node:fs';
import {join} from 'node:path';
import ts from 'typescript';

interface ShownText {
  readonly file: string;
  /** From 1 on. */
  readonly line: number;
  readonly text: string;
}

const isTest = /\.(test|spec)\.ts$|\/(testing|fixtures)\//;

/** Every shown text of the folders, in the order of their files. @param root folder of the project, with a slash at its end. */
export function shownTexts(root: string, folders: readonly string[]): ShownText[] {
  const files = folders.flatMap((folder) =>
    readdirSync(join(root, folder), {recursive: true, encoding: 'utf8'}).map((name) => `${folder}/${name}`),
  );
  return files
    .filter((file) => /\.(ts|html)$/.test(file) && !isTest.test(file))
    .sort()
    .flatMap((file) => {
      const source = readFileSync(join(root, file), 'utf8');
      return file.endsWith('.html') ? textsOfTemplate(file, source, 1) : textsOfSource(file, source);
    });
}

/** Literals of a program; a component's own template is read as a template. */
function textsOfSource(file: string, source: string): ShownText[] {
  const tree = ts.createSourceFile(file, source, ts.ScriptTarget.Latest, true);
  const texts: ShownText[] = [];
  const lineOf = (node: ts.Node) => tree.getLineAndCharacterOfPosition(node.getStart(tree)).line + 1;
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node)) return;
    if (isPartOfComponent(node, 'styles')) return;
    if (isPartOfComponent(node, 'template')) {
      texts.push(...textsOfTemplate(file, node.initializer.getText(tree), lineOf(node)));
      return;
    }
    if (ts.isTemplateExpression(node)) {
      const text = [node.head.text, ...node.templateSpans.map((span) => span.literal.text)].join('…');
      texts.push({file, line: lineOf(node), text});
      node.templateSpans.forEach((span) => visit(span.expression));
      return;
    }
    if (ts.isStringLiteralLike(node)) texts.push({file, line: lineOf(node), text: node.text});
    ts.forEachChild(node, visit);
  };
  visit(tree);
  return texts.filter(({text}) => / /.test(text.trim()));
}

const isPartOfComponent = (node: ts.Node, name: string): node is ts.PropertyAssignment =>
  ts.isPropertyAssignment(node) &&
  node.name.getText() === name &&
  ts.isObjectLiteralExpression(node.parent) &&
  ts.isCallExpression(node.parent.parent) &&
  node.parent.parent.expression.getText() === 'Component';

/** Text between tags, attributes that are read out, and literals inside of bindings. */
function textsOfTemplate(file: string, source: string, firstLine: number): ShownText[] {
  return source.split('\n').flatMap((line, i) => {
    const bindings = [...line.matchAll(/\{\{(.*?)\}\}|="([^"]*)"/g)].map((m) => m[1] ?? m[2] ?? '');
    const literals = bindings.flatMap((code) => [...code.matchAll(/'((?:[^'\\]|\\.)*)'/g)].map((m) => m[1]!));
    const read = [...line.matchAll(/\s(?:aria-label|label|title|placeholder)="([^"]+)"/g)].map((m) => m[1]!);
    const text = line
      .replace(/\{\{.*?\}\}/g, '…')
      .replace(/<[^>]*>|^[^<>]*"\s*>|<[^>]*$|<!--.*?-->/g, ' ')
      .replace(/^\s*[@}].*$/, ' ')
      .replace(/^\s*[[(]?[\w.:-]+[\])]?="[^"]*"?/, ' ');
    return [text.trim(), ...literals, ...read]
      .filter((shown) => / /.test(shown))
      .map((shown) => ({file, line: firstLine + i, text: shown}));
  });
}
