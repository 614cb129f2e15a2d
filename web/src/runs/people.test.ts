import { expect, test } from "vitest";
import { readPeople } from "./People";

test("people are read line by line, with their days", () => {
  expect(readPeople("Ida\n  Jon of the gate, 2031-06-20 \r\n\nAda;2031-06-01\n2 cooks")).toEqual([
    { name: "Ida" },
    { name: "Jon of the gate", day: "2031-06-20" },
    { name: "Ada", day: "2031-06-01" },
    { name: "2 cooks" },
  ]);
  expect(readPeople(" \n")).toEqual([]);
});
