/** Sheets and screens: ISO 216 and 269 in mm, US sheets in inches, common screens in CSS px. */
export const SHEETS: [string, [string, string, string][]][] = [
  [
    "ISO A and B",
    [
      ["A2", "420mm", "594mm"],
      ["A3", "297mm", "420mm"],
      ["A4", "210mm", "297mm"],
      ["A5", "148mm", "210mm"],
      ["A6", "105mm", "148mm"],
      ["B3", "353mm", "500mm"],
      ["B4", "250mm", "353mm"],
      ["B5", "176mm", "250mm"],
    ],
  ],
  [
    "ISO C, envelopes",
    [
      ["C4", "229mm", "324mm"],
      ["C5", "162mm", "229mm"],
      ["C6", "114mm", "162mm"],
      ["DL", "220mm", "110mm"],
    ],
  ],
  [
    "US sheets",
    [
      ["Letter", "8.5in", "11in"],
      ["Legal", "8.5in", "14in"],
      ["Tabloid", "11in", "17in"],
      ["Poster", "24in", "36in"],
    ],
  ],
  [
    "Screens",
    [
      ["Small phone", "360px", "800px"],
      ["Phone", "390px", "844px"],
      ["Large phone", "430px", "932px"],
      ["Tablet", "820px", "1180px"],
      ["Large tablet", "1024px", "1366px"],
      ["Laptop", "1280px", "800px"],
      ["Desktop", "1440px", "900px"],
      ["Wide", "1920px", "1080px"],
      ["Square post", "1080px", "1080px"],
    ],
  ],
];
