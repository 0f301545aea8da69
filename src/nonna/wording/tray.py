"""What is doubtful in a list of tools and in what was measured of them, in words."""

from __future__ import annotations

SENTENCES = {
    "twice": "T{tool} stands {times} times: which one is in the pocket?",
    "no-pocket": "{machine} has {pockets} pockets; there is none for T{tool}.",
    "short": "T{tool} with {long:length} is shorter than any holder; in inches it would be {meant:length}.",
    "long": "T{tool} with {long:length} does not fit over the setter, {most:length} does.",
    "long-inch": "T{tool} with {long:length} does not fit over the setter, {most:length} does. Was it taken for "
    "inches? "
    "Then it is {meant:length}.",
    "thin": "T{tool} with a diameter of {d:length} is thinner than a hair; in inches it would be {meant:length}.",
    "wide": "T{tool} with a diameter of {d:length} is larger than the changer takes, {most:length}.",
    "rough": "{change:signed} from its rough length: is it the tool the list means?",
    "apart": "Its readings lie further apart than they ever do: a chip, or another tool between them? Measure it "
    "again.",
    "far": "{change:signed}: the wrong tool in the pocket, pulled out, or broken?",
    "alike": "All tools differ alike by about {common:signed}: look at the setter, not at the tools.",
    "drift": "In line with its slow drift so far.",
    "insert": "{change:signed}: an insert changed, or not seated?",
}
