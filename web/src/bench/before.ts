/** What is written down before anything is closed up, by the step that it is: a question, what is said of it, and its fields. */
export const BEFORE: Record<string, { title: string; says: string; fields: [string, string, string][] }> = {
  "gas-free": {
    title: "Is it free of gas?",
    says: "What held oil or fuel holds vapour in its seams and its rust for days. No flame and no spark near it, now and after. Where you are not sure, somebody with a meter is.",
    fields: [
      ["how", "How it was made free of gas", "washed out with soda and hot water, twice; aired"],
      ["long", "For how long", "two days, open"],
      ["checked", "How that was checked", "no smell, meter at nought at the bottom"],
      ["whom", "By whom", ""],
    ],
  },
  "ready-to-steam": {
    title: "Is it ready to light?",
    says: "Hot water under pressure is no cold test: half full it holds many times the energy. Nobody leaves it, nobody stands before an end, eyes are covered, and it is known how the fire goes out.",
    fields: [
      ["water", "Water in the glass", "half a glass, glass blown cold"],
      ["feeds", "What both feeds did, cold", "hand pump and injector both deliver"],
      ["valve", "The valve, eased by hand", "free, seats"],
      ["whom", "Who stays with it", ""],
    ],
  },
  "tried-sooner": {
    title: "Try it before it has cured?",
    says: "What is not cured gives way: a seal creeps out, a patch lifts. It shows as a leak that was none, or comes off under pressure.",
    fields: [["why", "Why it is tried sooner", ""]],
  },
  swelled: {
    title: "Is it swelled?",
    says: "A dry cask leaks at every joint, and that is no fault of its own. Full of water for hours or days; then a little hot water, which drives the air, and no more pressure than is wanted.",
    fields: [
      ["long", "How long it was swelled", "three days, full"],
      ["water", "Hot water in it now: how much, how warm", "2 L at 70 °C"],
    ],
  },
}
