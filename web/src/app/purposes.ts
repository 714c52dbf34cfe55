import { matchPath } from "react-router";

/** What each view is for, in one sentence. */
const PURPOSES: [path: string, purpose: string][] = [
  ["/bench/:id", "Write a behaviour and see at once what it does."],
  ["/hand-ins/:id", "What a student handed in, as it ran; what you change here is a try."],
  ["/exercises/:id/bench", "The behaviour that the checks are made for."],
  ["/exercises/:id/proof/:place", "What a planted mistake changes, beside the reference."],
  ["/exercises/:id/proof", "Whether the checks would notice the usual mistakes."],
  ["/exercises/:id/marks", "What each hand-in got, and why."],
  ["/exercises/:id/feedback", "What each student gets to read."],
  ["/exercises/:id/collect", "Give a class the exercise, and take in its programs."],
  ["/exercises/:id/share", "Give the exercise to another teacher."],
  ["/exercises/:id", "The task, its cases and the checks that judge it."],
  ["/rigs/:id/live", "What the robot's sensors say now."],
  ["/rigs/:id/calibration", "How far the robot really goes and turns."],
  ["/rigs/:id", "Which part of the robot is on which port."],
  ["/traces/:id", "What a robot recorded, and what can be learnt from it."],
  ["/recordings/:id", "Say what stands in a recording, and it becomes a trace."],
  ["/floors/:id", "A place in which the robot can be tried, to scale."],
  ["/wordbooks/:id", "What the words of the class's robot library mean."],
  ["/classes/:id", "The students of a class, and what they are given."],
  ["/classes", "Your classes."],
  ["/trash", "What was thrown away, for 30 days."],
  ["/account", "Your name, your password, and where you are signed in."],
];

export function purposeOf(path: string): string {
  return PURPOSES.find(([pattern]) => matchPath(pattern, path))?.[1] ?? "";
}
