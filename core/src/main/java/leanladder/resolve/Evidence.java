package leanladder.resolve;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Strictness;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Plan;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Workspace;
import leanladder.reach.Position;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;

/** Says of each need whether one account meets it, and by what (resolution.md, sections 5 to 7). */
final class Evidence {
    private final Ground ground;
    private final Question question;
    private final Entitlements entitlements;
    private final Position position;
    private final Account account;
    private final Function<String, Value> inForce;
    private final Wording wording;
    private final int number;
    private int ring = -1;

    Evidence(
            Ground ground,
            Question question,
            Entitlements entitlements,
            Position position,
            Function<String, Value> inForce) {
        this.ground = ground;
        this.question = question;
        this.entitlements = entitlements;
        this.position = position;
        this.account = position.account();
        this.number = ground.directory().number(account.id());
        this.inForce = inForce;
        this.wording = new Wording(ground.estate(), question.at());
    }

    Climb.Gate gate(Need need, Setting setting) {
        if (need instanceof Need.Entitlement entitlement) return entitlement(entitlement);
        if (need instanceof Need.AsLooseAs other) return asLooseAs(other);
        if (need instanceof Need.Is is) {
            Value value = inForce.apply(is.setting());
            return new Climb.Gate(need, value.equals(is.value()), () -> wording.inForce(is.setting(), value));
        }
        if (need instanceof Need.OfKind ofKind)
            return new Climb.Gate(
                    need, ofKind.kinds().contains(account.kind()), () -> "is a " + wording.kind(account.kind()));
        if (need instanceof Need.Released) return released(need, setting);
        if (need instanceof Need.AnyOf anyOf) {
            List<Climb.Gate> inner =
                    anyOf.needs().stream().map(n -> gate(n, setting)).toList();
            boolean met = inner.stream().anyMatch(Climb.Gate::met);
            return new Climb.Gate(
                    need,
                    met,
                    () -> inner.stream()
                            .filter(g -> !met || g.met())
                            .map(Climb.Gate::evidence)
                            .distinct()
                            .collect(Collectors.joining(met ? "; also " : "; and ")));
        }
        boolean met = ground.isMetForAll(need, question).orElseThrow();
        return new Climb.Gate(need, met, need instanceof Need.Region ? this::region : this::hosting);
    }

    private String region() {
        return ground.estate()
                .organisation()
                .region()
                .map(r -> "the organisation is in " + r.toUpperCase(java.util.Locale.ROOT))
                .orElse("the organisation names no region");
    }

    private String hosting() {
        Optional<Workspace> workspace = question.workspace().flatMap(ground.estate()::workspace);
        return workspace
                .map(w -> w.name() + " has hosting of size " + w.size() + (w.trial() ? ", on trial" : ""))
                .orElse("no particular workspace is asked about");
    }

    private Climb.Gate asLooseAs(Need.AsLooseAs need) {
        Strictness strictness = ground.estate()
                .catalogue()
                .setting(need.setting())
                .flatMap(Setting::strictness)
                .orElseThrow();
        Value value = inForce.apply(need.setting());
        return new Climb.Gate(
                need, !strictness.isLooser(need.value(), value), () -> wording.inForce(need.setting(), value));
    }

    private Climb.Gate entitlement(Need.Entitlement need) {
        boolean held = false;
        for (String component : need.anyOf())
            held |= entitlements.holding(component).contains(number);
        boolean met = held;
        return new Climb.Gate(need, met, () -> seats(need, met));
    }

    /** The seats that carry what is needed, or why none does. */
    private String seats(Need.Entitlement need, boolean held) {
        List<String> told = new ArrayList<>();
        for (Allocation allocation : entitlements.allocations())
            for (String component : need.anyOf()) {
                if (!allocation.plan().components().contains(component)) continue;
                boolean carries = allocation.carries(component, number);
                if (carries) told.add(seat(allocation));
                else if (!held) told.add(whyMissing(allocation, component));
            }
        return told.isEmpty()
                ? "no licence plan contains it"
                : told.stream().distinct().collect(Collectors.joining("; "));
    }

    private String seat(Allocation allocation) {
        Instant granted = allocation.granted().get(account.id());
        return allocation.plan().name() + ", "
                + (granted == null ? "seated" : "seat held since " + wording.day(granted));
    }

    private String whyMissing(Allocation allocation, String component) {
        Plan plan = allocation.plan();
        if (!allocation.claimants().contains(number)) {
            return plan.kinds().contains(account.kind())
                    ? plan.name() + " is not meant for this account"
                    : plan.name() + " is not for a " + wording.kind(account.kind());
        }
        if (!allocation.seated().contains(number)) {
            return plan.name() + " has no seat free, waiting in place " + allocation.placeInLine(number);
        }
        if (plan.term().isEarly(question.at()))
            return plan.name() + " begins only on "
                    + wording.day(plan.term().from().orElseThrow());
        if (plan.term().isOver(question.at()))
            return plan.name() + " ended on " + wording.day(plan.term().until().orElseThrow());
        List<Integer> rules = allocation.rulesLeavingOut(component, number);
        return seat(allocation) + ", component left out by rule "
                + String.join(" and ", rules.stream().map(String::valueOf).toList());
    }

    /** Section 7 for one account: ring by ring outwards, then the early openings. */
    private Climb.Gate released(Need need, Setting setting) {
        List<Ring> rings = ground.estate().rings();
        int mine = ring(rings);
        Optional<Release> release = ground.estate().release(setting.key());
        if (release.isEmpty()) return new Climb.Gate(need, false, () -> "no release of it is planned yet");
        boolean openToMine = false;
        Optional<Supplier<String>> comes = Optional.empty();
        for (int j = mine; j < rings.size(); j++) {
            Instant opens = release.get().opens().get(rings.get(j).id());
            if (opens == null) continue;
            if (opens.isAfter(question.at())) {
                String ring = rings.get(j).name();
                if (comes.isEmpty()) comes = Optional.of(() -> "comes to " + ring + " on " + wording.day(opens));
            } else if (!rings.get(j).asksConsent() || hasConsented(rings, j)) {
                String ring = rings.get(j).name();
                return new Climb.Gate(need, true, () -> "open to " + ring + " since " + wording.day(opens));
            } else {
                openToMine = true;
            }
        }
        boolean someRingAsks = rings.stream().anyMatch(Ring::asksConsent);
        boolean openEarly = false;
        for (Release.Early early : release.get().early()) {
            if (!position.isHeldBy(early.to())) continue;
            if (early.from().isAfter(question.at())) {
                if (comes.isEmpty()) comes = Optional.of(() -> "opens early on " + wording.day(early.from()));
            } else if (!someRingAsks || hasConsented(rings, rings.size() - 1)) {
                return new Climb.Gate(
                        need,
                        true,
                        () -> "opened early for " + wording.target(early.to()) + " on " + wording.day(early.from()));
            } else {
                openEarly = true;
            }
        }
        String standsIn = "stands in " + rings.get(mine).name();
        if (openToMine || openEarly)
            return new Climb.Gate(need, false, () -> standsIn + ", but has not consented to previews");
        Supplier<String> when = comes.orElse(() -> "not open there yet");
        return new Climb.Gate(need, false, () -> standsIn + "; " + when.get());
    }

    /** Where the account's ring stands among the rings; the outermost where no setting says. */
    private int ring(List<Ring> rings) {
        if (ring < 0) {
            ring = rings.size() - 1;
            if (ground.estate().catalogue().setting(Setting.RING).isPresent()) {
                String id = ((Value.Choice) inForce.apply(Setting.RING)).option();
                for (int i = 0; i < rings.size(); i++) if (rings.get(i).id().equals(id)) ring = i;
            }
        }
        return ring;
    }

    private boolean hasConsented(List<Ring> rings, int outermost) {
        for (int i = 0; i <= outermost; i++)
            for (Consent consent : account.consents())
                if (rings.get(i).asksConsent()
                        && rings.get(i).id().equals(consent.ring())
                        && !consent.at().isAfter(question.at())) return true;
        return false;
    }
}
