import { expect, test } from "vitest";

import { tableOf, tablesOf } from "./csv";

test("rows become a table with a head, and nothing becomes nothing", () => {
  expect(tableOf([{ stop: 2.8, near: null, far: true }])).toBe("stop,near,far\r\n2.8,,true");
  expect(tableOf([])).toBe("");
});

test("what would end a cell is quoted", () => {
  expect(tableOf([{ name: 'a "plain" ring, long' }])).toBe('name\r\n"a ""plain"" ring, long"');
  expect(tableOf([{ name: "two\nlines" }, { name: "a\rreturn" }])).toBe('name\r\n"two\nlines"\r\n"a\rreturn"');
});

test.each(["=1+1", "+1", "-1", "@sum", "\tx"])("%j is no formula in a spreadsheet", (text) => {
  expect(tableOf([{ name: text }])).toBe(`name\r\n'${text}`);
});

test("a number below zero stays a number", () => {
  expect(tableOf([{ error: -0.03 }])).toBe("error\r\n-0.03");
});

test("tables stand under each other with a line between, without those that are empty", () => {
  expect(tablesOf([{ a: 1 }], [], [{ b: 2 }])).toBe("a\r\n1\r\n\r\nb\r\n2\r\n");
});
