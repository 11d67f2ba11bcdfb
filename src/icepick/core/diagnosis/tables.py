"""What no temperature and no pressure shows, by tables: voltages, windings, magnets, sounds and sights, and the practice of
doubting a reading before the machine."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import numpy as np

from icepick.core.circuit.context import note_mishap
from icepick.core.diagnosis.command_evidence import FEATURES as COMMAND_FEATURES
from icepick.core.diagnosis.danger_evidence import FEATURES as DANGER_FEATURES
from icepick.core.diagnosis.defrost_evidence import FEATURES as DEFROST_FEATURES
from icepick.core.diagnosis.evidence import Feature, JudgedRun, Term
from icepick.core.diagnosis.hypotheses import UNIVERSE, Hypothesis
from icepick.core.diagnosis.reading_evidence import FEATURES as READING_FEATURES
from icepick.core.diagnosis.sight_evidence import FEATURES as SIGHT_FEATURES
from icepick.core.diagnosis.valve_evidence import FEATURES as VALVE_FEATURES

FEATURES: tuple[Feature, ...] = (
    *COMMAND_FEATURES,
    *VALVE_FEATURES,
    *DANGER_FEATURES,
    *DEFROST_FEATURES,
    *SIGHT_FEATURES,
    *READING_FEATURES,
)
"""Every question of a table, in the order in which a technician comes by them."""

PLACE = {hypothesis: place for place, hypothesis in enumerate(UNIVERSE)}
SPEAKS = 2.0
"""How many times likelier than on average an answer must be under a fault before it is said to speak for it."""


class Tables:
    """The answers that runs give to the questions of the tables."""

    def terms(self, runs: Sequence[JudgedRun], hypotheses: Sequence[Hypothesis]) -> list[Term]:
        """Every answer; those of runs repeated in one mode share one voice.

        Parameters
        ----------
        runs : sequence of JudgedRun
            The runs, each with the checks that rest on readings which may carry a judgement.
        hypotheses : sequence of Hypothesis
            What may be wrong.

        Returns
        -------
        list of Term
            In the order in which a technician comes by them.
        """
        rows = [PLACE[hypothesis] for hypothesis in hypotheses]
        found = _answers(runs)
        times = Counter((feature.name, run.context.run.mode) for feature, run, _ in found)
        terms = []
        for feature, run, outcome in found:
            context = run.context
            # Runs repeated in one mode are one experiment again, not independent proof.
            share = 1 / times[feature.name, context.run.mode]
            column = feature.tables[context.commanded][:, feature.outcomes.index(outcome)]
            terms.append(
                Term(
                    f"{context.run.mode}: {feature.words[outcome]}",
                    context.run.id,
                    tuple(feature.spots(context)),
                    share * np.log(column[rows]),
                    feature.name,
                    SPEAKS**share,
                )
            )
        return terms


def _answers(runs: Sequence[JudgedRun]) -> list[tuple[Feature, JudgedRun, str]]:
    found: list[tuple[Feature, JudgedRun, str]] = []
    for run in runs:
        for feature in FEATURES:
            if feature.applies(run.context):
                try:
                    outcome = feature.observe(run.context, run.checks)
                except Exception as error:
                    note_mishap(run.context, feature.name, error)
                    continue
                if outcome is not None:
                    found.append((feature, run, outcome))
    return found
