"""The baseline: a rig that is known to be tight, held as it stands, to know what rig and place do by themselves.

It proves nothing of a vessel. What it lost is kept with the kit, and a later hold of the same rig may be held against
it, with how alike both were.
"""

from dataclasses import replace

from toadbell.core.procedures.proof import PROOF

BASELINE = replace(PROOF, id="baseline", proves="nothing")
