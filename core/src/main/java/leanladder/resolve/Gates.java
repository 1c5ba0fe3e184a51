package leanladder.resolve;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import leanladder.catalogue.AppVersion;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Strictness;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Device;
import leanladder.estate.Hosting;
import leanladder.estate.Plan;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Track;
import leanladder.estate.Workspace;
import leanladder.preview.Arrival;
import leanladder.reach.AccountReach;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;

/** Finds out for each need whether one account meets it, and by what (resolution.md, sections 5 to 7). */
final class Gates {
    private final CompiledEstate compiledEstate;
    private final EvaluationContext evaluationContext;
    private final Entitlements entitlements;
    private final AccountReach accountReach;
    private final Account account;
    private final Function<String, Value> inForce;
    private final int number;
    private final Map<String, Integer> ringOfTrack = new HashMap<>();

    Gates(
            CompiledEstate compiledEstate,
            EvaluationContext evaluationContext,
            Entitlements entitlements,
            AccountReach accountReach,
            Function<String, Value> inForce) {
        this.compiledEstate = compiledEstate;
        this.evaluationContext = evaluationContext;
        this.entitlements = entitlements;
        this.accountReach = accountReach;
        this.account = accountReach.account();
        this.number = compiledEstate.directory().number(account.id());
        this.inForce = inForce;
    }

    Climb.Gate gate(Need need, Setting setting) {
        if (need instanceof Need.Entitlement entitlement) return entitlement(entitlement);
        if (need instanceof Need.MinimumSetting other) {
            Value value = inForce.apply(other.setting());
            return gate(need, !strictness(other).isLooser(other.value(), value), other.setting(), value);
        }
        if (need instanceof Need.ExactSetting exactSetting) {
            Value value = inForce.apply(exactSetting.setting());
            return gate(need, value.equals(exactSetting.value()), exactSetting.setting(), value);
        }
        if (need instanceof Need.AccountKinds accountKinds)
            return new Climb.Gate(
                    need, accountKinds.kinds().contains(account.kind()), () -> new Evidence.KindMatch(account.kind()));
        if (need instanceof Need.ReleaseNeed) {
            Arrival arrival = arrival(setting.key());
            return new Climb.Gate(need, arrival.hasArrived(), () -> new Evidence.ReleaseArrival(arrival));
        }
        if (need instanceof Need.AnyOf anyOf) {
            List<Climb.Gate> inner =
                    anyOf.needs().stream().map(n -> gate(n, setting)).toList();
            boolean met = inner.stream().anyMatch(Climb.Gate::met);
            return new Climb.Gate(need, met, () -> new Evidence.AnyOf(met, inner));
        }
        if (need instanceof Need.WorkspaceRole role) return role(role);
        if (need instanceof Need.Device device) return device(device);
        boolean met = compiledEstate.isMetForAll(need, evaluationContext).orElseThrow();
        return new Climb.Gate(
                need,
                met,
                () -> need instanceof Need.Region
                        ? new Evidence.Region(
                                compiledEstate.estate().organisation().region())
                        : hosting((Need.Hosting) need));
    }

    private Evidence.Hosting hosting(Need.Hosting need) {
        Optional<Workspace> workspace = workspace();
        Optional<Hosting> on = workspace.map(compiledEstate.estate()::hostingOf);
        return new Evidence.Hosting(
                workspace,
                on,
                on.filter(h -> compiledEstate.isAtLeast(h.size(), need.size())).isPresent());
    }

    private Optional<Workspace> workspace() {
        return evaluationContext.workspace().flatMap(compiledEstate.estate()::workspace);
    }

    private Climb.Gate role(Need.WorkspaceRole need) {
        Optional<Workspace> workspace = workspace();
        Set<Need.Role> roles = EnumSet.noneOf(Need.Role.class);
        workspace.ifPresent(w -> {
            if (w.stewards().contains(account.id())) roles.add(Need.Role.STEWARD);
            boolean listed = w.members().accounts().contains(account.id());
            if (listed || w.members().groups().stream().anyMatch(accountReach.groups()::containsKey))
                roles.add(Need.Role.MEMBER);
        });
        boolean met = workspace.isEmpty() || need.roles().stream().anyMatch(roles::contains);
        return new Climb.Gate(need, met, () -> new Evidence.WorkspaceRole(workspace, roles));
    }

    private Climb.Gate device(Need.Device need) {
        List<Device> fitting =
                account.devices().stream().filter(d -> fits(d, need)).toList();
        return new Climb.Gate(
                need,
                !fitting.isEmpty(),
                () -> new Evidence.Devices(
                        account.devices(),
                        account.devices().stream()
                                .filter(d -> isOfKind(d, need))
                                .toList(),
                        fitting));
    }

    private static boolean isOfKind(Device device, Need.Device need) {
        return need.kinds().isEmpty() || need.kinds().contains(device.kind());
    }

    private static boolean fits(Device device, Need.Device need) {
        if (!isOfKind(device, need)) return false;
        if (need.app().isEmpty()) return true;
        AppVersion version = device.apps().get(need.app().get());
        return version != null
                && need.atLeast().map(least -> version.compareTo(least) >= 0).orElse(true);
    }

    /** What became of the release of a setting for the account. */
    Arrival arrival(String setting) {
        Optional<Release> release = compiledEstate.estate().release(setting);
        if (release.isEmpty()) return new Arrival.MissingRelease();
        Track track = compiledEstate.estate().trackOf(release.get());
        return Arrival.compute(track.rings(), ring(track), release, accountReach, evaluationContext.at());
    }

    private static Climb.Gate gate(Need need, boolean met, String setting, Value value) {
        return new Climb.Gate(need, met, () -> new Evidence.SettingValue(setting, value));
    }

    private Strictness strictness(Need.MinimumSetting need) {
        return compiledEstate
                .estate()
                .catalogue()
                .setting(need.setting())
                .flatMap(Setting::strictness)
                .orElseThrow();
    }

    private Climb.Gate entitlement(Need.Entitlement need) {
        boolean held = false;
        for (String component : need.anyOf())
            held |= entitlements.holding(component).contains(number);
        boolean met = held;
        return new Climb.Gate(need, met, () -> new Evidence.Seats(seats(need, met)));
    }

    private List<Evidence.Seat> seats(Need.Entitlement need, boolean held) {
        List<Evidence.Seat> seats = new ArrayList<>();
        for (Allocation allocation : entitlements.allocations())
            for (String component : need.anyOf()) {
                if (!allocation.plan().components().contains(component)) continue;
                boolean carries = allocation.carries(component, number);
                if (carries)
                    seats.add(
                            new Evidence.Seat(allocation.plan(), new Evidence.SeatState.Carries(granted(allocation))));
                else if (!held) seats.add(new Evidence.Seat(allocation.plan(), whyMissing(allocation, component)));
            }
        return seats;
    }

    private Optional<java.time.Instant> granted(Allocation allocation) {
        return allocation.granted(number);
    }

    private Evidence.SeatState whyMissing(Allocation allocation, String component) {
        Plan plan = allocation.plan();
        if (!allocation.claimants().contains(number))
            return plan.kinds().contains(account.kind())
                    ? new Evidence.SeatState.NoRule()
                    : new Evidence.SeatState.WrongKind(account.kind());
        if (!allocation.seated().contains(number))
            return new Evidence.SeatState.Waiting(allocation.placeInLine(number));
        if (plan.term().isEarly(evaluationContext.at()))
            return new Evidence.SeatState.TermToCome(plan.term().from().orElseThrow());
        if (plan.term().isOver(evaluationContext.at()))
            return new Evidence.SeatState.TermOver(plan.term().until().orElseThrow());
        return new Evidence.SeatState.LeftOut(granted(allocation), allocation.rulesLeavingOut(component, number));
    }

    /** Where the account's ring stands among those of a track; the outermost where no setting says, and -1 where there are none. */
    int ring(Track track) {
        Integer known = ringOfTrack.get(track.id());
        if (known == null) {
            List<Ring> rings = track.rings();
            known = rings.size() - 1;
            if (compiledEstate.estate().catalogue().setting(track.setting()).isPresent()) {
                String id = ((Value.Choice) inForce.apply(track.setting())).option();
                for (int i = 0; i < rings.size(); i++) if (rings.get(i).id().equals(id)) known = i;
            }
            ringOfTrack.put(track.id(), known);
        }
        return known;
    }
}
