"""What arrives at each reader: levels, a coil's range, the converter and the rates, and what is wrong with them."""

from __future__ import annotations

from speedchain.document.installation import Installation
from speedchain.fields.errors import InputError
from speedchain.placement import PlacementDetail
from speedchain.readout.model import Readout
from speedchain.results import result
from speedchain.sensor import NO_TARGET, facts_of
from speedchain.signal import frequency_hz
from speedchain.signal.levels import Comparator, Levels, design_comparator
from speedchain.signal.path import Arriving, Coil, Conversion, StageRate, arriving, coil_of, conversion_of, stage_rate
from speedchain.stages.findings import Finding, Severity
from speedchain.target import RingShape

CLOSE = 0.8
"""From this share of what an input takes on a finding says that it is close. Common practice."""
USUAL_ARMING_V = 0.3
BOUNCE_MS = 1.0
"""Contacts of reeds bounce for up to a millisecond. Common practice."""


@result
class SignalDetail:
    """All that is known of the signal between sensor and readers."""

    arriving: Arriving
    at_reader: Levels | None
    coil: Coil | None
    comparator: Comparator | None
    conversion: Conversion | None
    rates: tuple[StageRate, ...]


class Arrival:
    """Works out the signal's detail of one installation and adds its findings."""

    def __init__(self, installation: Installation, pulses_per_km: float, findings: list[Finding]) -> None:
        self.installation, self.signal, self.findings = installation, installation.signal, findings
        self.facts, self.needs = facts_of(installation.sensor), installation.needs
        self.pulses_per_km = pulses_per_km
        self.top_hz = frequency_hz(self.needs.max_speed_kmh, pulses_per_km)
        self.lowest_hz = frequency_hz(self.needs.min_speed_kmh, pulses_per_km)

    def add(self, code: str, severity: Severity, message: str, remedy: str) -> None:
        """One finding about the signal."""
        self.findings.append(Finding(f"signal.{code}", severity, "signal", message, remedy))

    def conversion(self) -> Conversion | None:
        """The ratio converter, if there is one that can do it."""
        converter = self.signal.converter
        if converter is None:
            return None
        try:
            return conversion_of(
                converter, self.pulses_per_km, self.installation.check_speed_kmh, self.needs.min_speed_kmh
            )
        except InputError as error:
            self.add("ratio", "blocking", error.problems[0].message, error.problems[0].remedy)
            return None

    def detail(self, conversion: Conversion | None, placed: PlacementDetail, ring: RingShape | None) -> SignalDetail:
        """Levels, coil, comparator and rates."""
        signal, conditioner = self.signal, self.signal.conditioner
        first = self.installation.readouts[0].input
        arming = conditioner.arming_v if conditioner else first.min_high_v if first else USUAL_ARMING_V
        gap = placed.air_gap_mm if placed.possible else None
        coil = None
        if self.facts.output == "sine":
            coil = coil_of(
                signal, self.pulses_per_km, self.needs.max_speed_kmh, arming, gap, ring.pitch_mm if ring else None
            )
        pull_up = None
        if conditioner is None and first is not None and first.pull_up_ohm is not None:
            pull_up = (first.supply_v, first.pull_up_ohm)
        result = arriving(
            self.facts.output,
            signal,
            self.needs.supply_v,
            self.top_hz,
            pull_up,
            coil,
            self.installation.check_speed_kmh,
        )
        comparator = self._comparator(result)
        at_reader = Levels(0.0, conditioner.output_v) if conditioner else result.levels
        self._check_lead(result)
        if coil is not None:
            self._check_coil(coil)
        self._check_levels(at_reader)
        rates = self._rates(conversion, placed)
        self._check_rates(rates)
        if conversion is not None:
            self._check_conversion(conversion)
        return SignalDetail(result, at_reader, coil, comparator, conversion, rates)

    def _comparator(self, result: Arriving) -> Comparator | None:
        conditioner = self.signal.conditioner
        if conditioner is None or conditioner.kind != "comparator" or result.levels is None:
            return None
        try:
            return design_comparator(
                result.levels,
                conditioner.noise_v,
                conditioner.supply_v,
                conditioner.series,
                conditioner.input_resistor_ohm,
            )
        except InputError as error:
            self.add("comparator", "blocking", error.problems[0].message, error.problems[0].remedy)
            return None

    def _check_lead(self, result: Arriving) -> None:
        lead, output = self.signal.lead, self.facts.output
        asked = self.signal.conditioner is not None or self.installation.readouts[0].input is not None
        if (
            asked
            and output in ("open_collector", "contact")
            and result.pull_up_ohm is None
            and not self.signal.measured
        ):
            most = result.largest_pull_up_ohm
            say = f" at most {most:g} Ω for this lead and speed" if most else ""
            self.add(
                "no_pull_up", "blocking", "Nothing pulls the signal up: this output only pulls it low.",
                f"Put a pull-up from the signal to the reader's supply:{say or ' 1 to 10 kΩ'}.",
            )  # fmt: skip
        if asked and output == "two_wire_current" and result.levels is None:
            self.add(
                "no_load", "blocking", "A two-wire sensor gives current; without a load resistor there are no levels.",
                "Put about 100 Ω from its second wire to ground: 7 and 14 mA then give 0.7 and 1.4 V.",
            )  # fmt: skip
        if result.rise_s is not None and self.top_hz and result.rise_s > 0.1 / self.top_hz:
            self.add(
                "slow_rise", "warning",
                f"The lead with its pull-up rises in {result.rise_s * 1e6:.3g} µs; a tenth of the shortest period is "
                f"{1e5 / self.top_hz:.3g} µs.",
                f"Take a pull-up of at most {result.largest_pull_up_ohm:g} Ω, or a shorter lead.",
            )  # fmt: skip
        if lead.permanent_feed and lead.fuse_a is None:
            self.add(
                "no_fuse", "warning", "The sensor is fed from the battery all the time, and no fuse is entered.",
                "Put a fuse at the battery, of no more than the wire carries: a chafed feed without one burns.",
            )  # fmt: skip
        if lead.near_ignition and not (lead.twisted and lead.shield == "one_end"):
            self.add(
                "ignition", "warning", "The lead runs along ignition wires without being twisted and shielded.",
                "Move it away; else twist the pair, and shield it with the shield grounded at the reader's end only.",
            )  # fmt: skip
        if lead.shield == "both_ends":
            self.add(
                "shield", "note", "A shield grounded at both ends carries current and brings in hum.",
                "Ground it at one end, at the reader.",
            )  # fmt: skip

    def _check_coil(self, coil: Coil) -> None:
        feeds = "the converter" if self.signal.conditioner else "the reader"
        if coil.min_speed_kmh > self.needs.min_speed_kmh:
            self.add(
                "vr_slow", "warning",
                f"Below {coil.min_speed_kmh:.3g} km/h the coil gives less than the {coil.arming_v:g} V peak that {feeds} "
                f"needs; {self.needs.min_speed_kmh:g} km/h is asked for.",
                "Come closer with the sensor, take more teeth, or a Hall sensor, which reads down to standstill.",
            )  # fmt: skip
        if coil.max_input_vpp is None or coil.clamped:
            return
        share = coil.at_top_vpp / coil.max_input_vpp
        if share > CLOSE:
            over = coil.too_much_from_kmh is not None
            from_kmh = coil.max_input_vpp / coil.vpp_per_kmh
            self.add(
                "over_driven", "blocking" if over else "warning",
                f"At {self.needs.max_speed_kmh:g} km/h the coil gives {coil.at_top_vpp:.3g} V peak to peak; the converter takes "
                f"{coil.max_input_vpp:g} V, reached at {from_kmh:.0f} km/h.",
                "Put a clamp at its input before driving that fast, widen the gap, or replace the coil by a Hall sensor: "
                "an over-driven converter dies, and hours go into finding it.",
            )  # fmt: skip

    def _check_levels(self, levels: Levels | None) -> None:
        converter = self.signal.converter is not None
        for readout in self.installation.readouts:
            given = readout.input
            if given is None or levels is None or (converter and not readout.before_converter):
                continue
            if levels.low_v > given.max_low_v and self.facts.output != "sine":
                self.add(
                    "low_level", "blocking",
                    f"{readout.name} never sees a low: it takes up to {given.max_low_v:g} V for low, and {levels.low_v:.2f} V "
                    "arrives.",
                    "Use a comparator with its threshold between the levels, or a smaller load.",
                )  # fmt: skip
            if levels.high_v < given.min_high_v and self.facts.output != "sine":
                self.add(
                    "high_level", "blocking",
                    f"{readout.name} never sees a high: it takes {given.min_high_v:g} V and more for high, and "
                    f"{levels.high_v:.2f} V arrives.",
                    "Use a comparator, a larger load, or pull the signal up to the reader's supply.",
                )  # fmt: skip
            if given.max_input_v is not None and levels.high_v > given.max_input_v:
                self.add(
                    "over_voltage", "blocking",
                    f"{levels.high_v:.3g} V arrives at {readout.name}; its input stands {given.max_input_v:g} V.",
                    "Pull up to the reader's own supply, or put a divider or level shifter between, before connecting it.",
                )  # fmt: skip

    def _rates(self, conversion: Conversion | None, placed: PlacementDetail) -> tuple[StageRate, ...]:
        hz = self.lowest_hz, self.top_hz
        long, short = (placed.long_share, placed.short_share) if placed.short_share > 0 else (0.0, 0.0)
        per_turn = self.installation.target.count * self.installation.target.edges
        shares = (long * per_turn, short * per_turn) if short else (0.5, 0.5)
        pulse = (1000 * shares[0] / hz[0], 1000 * shares[1] / hz[1])
        limit = None if self.installation.sensor.kind in NO_TARGET else self.facts.max_frequency_hz
        rows = [stage_rate("sensor", "Sensor", hz, pulse, limit)]
        if (conditioner := self.signal.conditioner) is not None:
            label = "Comparator" if conditioner.kind == "comparator" else "VR conditioner"
            rows.append(stage_rate("conditioner", label, hz, pulse, conditioner.max_frequency_hz))
        out, out_pulse = hz, pulse
        if conversion is not None and (converter := self.signal.converter) is not None:
            rows.append(stage_rate("converter_in", "Converter, in", hz, pulse, converter.max_input_hz))
            top = hz[1] * conversion.ratio
            out = hz[0] * conversion.ratio, top if conversion.cap_hz is None else min(top, conversion.cap_hz)
            out_pulse = 500 / out[0], 500 / out[1]
            rows.append(stage_rate("converter_out", "Converter, out", out, out_pulse, converter.max_output_hz))
        for readout in self.installation.readouts:
            straight = conversion is None or readout.before_converter
            at, width = (hz, pulse) if straight else (out, out_pulse)
            given = readout.input
            most = None if given is None else given.max_frequency_hz
            if given is not None and given.dead_time_ms > 0:
                held = 1000 / given.dead_time_ms
                most = held if most is None else min(most, held)
            least = given.min_pulse_us / 1000 if given is not None and given.min_pulse_us > 0 else None
            rows.append(stage_rate("reader", readout.name, at, width, most, least))
        return tuple(rows)

    def _check_rates(self, rates: tuple[StageRate, ...]) -> None:
        top = f"At {self.needs.max_speed_kmh:g} km/h"
        for row in rates[1:]:
            if not row.kept_up:
                self.add(
                    "too_fast", "blocking",
                    f"{top} {row.label} gets {row.top_hz:.0f} Hz and follows up to {row.max_frequency_hz:.4g} Hz.",
                    "Use fewer teeth or magnets, divide the pulses, or shorten its filter and dead time.",
                )  # fmt: skip
            if not row.pulse_seen:
                self.add(
                    "short_pulse", "blocking",
                    f"{top} a pulse lasts {row.shortest_ms * 1000:.3g} µs; {row.label} filters out all below "
                    f"{(row.least_ms or 0) * 1000:.4g} µs.",
                    "Shorten its filter, or use a wider tooth or magnet.",
                )  # fmt: skip
        for readout in self.installation.readouts:
            self._check_bounce(readout)

    def _check_bounce(self, readout: Readout) -> None:
        given = readout.input
        if given is None or self.facts.output != "contact" or self.signal.conditioner is not None:
            return
        if given.dead_time_ms < BOUNCE_MS and given.min_pulse_us < 1000 * BOUNCE_MS:
            most_ms = 1000 / self.top_hz
            room = "" if most_ms > BOUNCE_MS else ", and this target is too fast for a contact"
            self.add(
                "bounce", "warning",
                f"A contact bounces for up to {BOUNCE_MS:g} ms; {readout.name} may count it more than once.",
                f"Set a dead time between {BOUNCE_MS:g} and {most_ms:.3g} ms{room}.",
            )  # fmt: skip

    def _check_conversion(self, conversion: Conversion) -> None:
        if abs(conversion.error_ppm) > 1000:
            self.add(
                "ratio_error", "warning",
                f"The converter's {_fractions(conversion)} is {conversion.error_ppm / 1e4:+.2f} % off what the gauge wants.",
                "Set it to the best ratio, allow larger numbers, or use two stages.",
            )  # fmt: skip
        for readout in self.installation.readouts:
            if (
                readout.before_converter
                or readout.scale_end_kmh is None
                or readout.scale_end_kmh >= self.needs.max_speed_kmh
            ):
                continue
            cap = self.signal.converter.cap_kmh if self.signal.converter else None
            if readout.past_end == "wraps" and (cap is None or cap > readout.scale_end_kmh):
                self.add(
                    "wraps", "warning",
                    f"Beyond {readout.scale_end_kmh:g} km/h {readout.name} drops to zero, and {self.needs.max_speed_kmh:g} km/h "
                    "is asked for.",
                    f"Cap the converter's output at {readout.scale_end_kmh:g} km/h.",
                )  # fmt: skip


def _fractions(conversion: Conversion) -> str:
    return " · ".join([f"{stage.numerator}/{stage.denominator}" for stage in conversion.stages])
