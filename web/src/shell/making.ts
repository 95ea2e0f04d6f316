/** What is made: ready outlines, and a picture that is asked for. */
import { make } from "../state/choosing";

export const OUTLINES: { name: string; outline: Record<string, unknown>; path: string; key?: string }[] = [
  { name: "Rectangle", outline: { kind: "rectangle" }, path: "M3 5H21V19H3Z", key: "R" },
  {
    name: "Ellipse",
    outline: { kind: "ellipse" },
    path: "M12 4C17 4 21 7.6 21 12S17 20 12 20 3 16.4 3 12 7 4 12 4Z",
    key: "E",
  },
  { name: "Polygon", outline: { kind: "polygon", sides: 6 }, path: "M12 3L20 7.5V16.5L12 21L4 16.5V7.5Z", key: "G" },
  {
    name: "Star",
    outline: { kind: "star", points: 5, depth: 0.5 },
    path: "M12 3L14.6 9.2 21.3 9.8 16.2 14.2 17.8 20.7 12 17.3 6.2 20.7 7.8 14.2 2.7 9.8 9.4 9.2Z",
    key: "S",
  },
  {
    name: "Heart",
    outline: { kind: "heart" },
    path: "M12 7C13 4 16 3 18 4.4 21 6.4 21.6 10 19.5 13 17.6 15.8 14.5 17.6 12 21 9.5 17.6 6.4 15.8 4.5 13 2.4 10 3 6.4 6 4.4 8 3 11 4 12 7Z",
    key: "H",
  },
  {
    name: "Leaf",
    outline: { kind: "leaf" },
    path: "M12 3C16 6 20 10 20 14.5 20 18.5 16 20 12 21 8 20 4 18.5 4 14.5 4 10 8 6 12 3Z",
    key: "F",
  },
  { name: "Kite", outline: { kind: "kite" }, path: "M12 2.5L20 9.5 12 21.5 4 9.5Z", key: "K" },
  {
    name: "Speech bubble",
    outline: { kind: "bubble" },
    path: "M7 4H17C19.5 4 21 5.5 21 8V12C21 14.5 19.5 16 17 16H11L6.5 21 7.5 16H7C4.5 16 3 14.5 3 12V8C3 5.5 4.5 4 7 4Z",
    key: "B",
  },
  { name: "Arch", outline: { kind: "arch" }, path: "M4 21V11C4 6.5 7.5 3 12 3S20 6.5 20 11V21Z", key: "A" },
  {
    name: "Drop",
    outline: { kind: "drop" },
    path: "M12 2.5C13 7 19 10 19 15.2 19 19 16 21.5 12 21.5S5 19 5 15.2C5 10 11 7 12 2.5Z",
    key: "O",
  },
  { name: "Flag", outline: { kind: "flag" }, path: "M3 6H21L18 12 21 18H3Z", key: "V" },
  {
    name: "Ticket",
    outline: { kind: "ticket" },
    path: "M3 6H21V9.8A2.2 2.2 0 0 0 21 14.2V18H3V14.2A2.2 2.2 0 0 0 3 9.8Z",
    key: "T",
  },
  {
    name: "Cloud",
    outline: { kind: "cloud" },
    path: "M7 18C4 18 2.5 16 3.2 13.8 2 11 4.2 8.6 6.8 9 7.6 6 11.4 5 13.6 7 16.6 5.4 19.6 7.6 19 10.4 21.6 11.4 22 15 19.6 16.2 19 18.4 16.6 18.8 15 17.6 13.4 19.4 10 19.4 9 17.8Z",
    key: "C",
  },
  {
    name: "Ring",
    outline: { kind: "ring" },
    path: "M12 3A9 9 0 1 1 12 21A9 9 0 1 1 12 3ZM12 8A4 4 0 1 0 12 16A4 4 0 1 0 12 8Z",
    key: "I",
  },
  {
    name: "Burst",
    outline: { kind: "star", points: 16, depth: 0.2 },
    path: "M12 2.5L13.5 5 16 3.5 16.6 6.4 19.6 6 19 9 21.5 10.3 19.8 12.5 21.3 15 18.6 16 18.8 19 15.9 18.7 14.7 21.4 12.4 19.6 10 21.5 8.8 18.8 5.8 19.2 6 16.2 3.2 15.2 4.9 12.7 2.8 10.5 5.5 9.3 4.8 6.4 7.8 6.7 8.3 3.7 10.7 5Z",
    key: "U",
  },
];

export function chooseOutline(name: string) {
  const found = OUTLINES.find((o) => o.name === name)!;
  make({ kind: "outline", outline: found.outline, name: found.name });
}

export function askForPicture() {
  document.getElementById("picture-file")?.click();
}
