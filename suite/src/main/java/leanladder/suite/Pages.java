package leanladder.suite;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/** The pages that are open: each is that of one account, with a clock of its own, and shows what has been taken up by then. */
final class Pages {
    private static final int MOST = 2000;
    private static final int ID = 12;
    private static final Duration KEPT = Duration.ofHours(12);
    private static final Duration FARTHEST = Duration.ofDays(30);

    /** Lean Ladder tells no longer history at once. */
    private static final Duration LONGEST_MEMORY = Duration.ofDays(60);

    private final SettingsClient settingsClient;
    private final Clock clock;
    private final SecureRandom random = new SecureRandom();
    private final Cache<String, Page> openPages =
            Caffeine.newBuilder().maximumSize(MOST).expireAfterAccess(KEPT).build();
    private final Map<String, UserActions> seen = new ConcurrentHashMap<>();

    Pages(SettingsClient settingsClient, Clock clock) {
        this.settingsClient = settingsClient;
        this.clock = clock;
    }

    /** An open page. @param ahead how far its clock is ahead of ours */
    record Page(String id, String account, Duration ahead, UserActions done) {}

    /**
     * A setting on a page.
     *
     * @param shown there, greyed or absent @param waitsFor refresh, sign-in, restart, update or clear, where something new waits for that
     */
    record PageVisit(
            String key, JsonNode value, String shown, Optional<String> notice, Optional<UserAction> waitsFor) {}

    /** A page as it shows. */
    record View(
            String page, String account, Instant clock, boolean ahead, UserActions done, List<PageVisit> settings) {}

    /** Opens the page of an account, as the person left it. @param at what its clock shows; now where empty */
    Page open(String account, Optional<Instant> at) {
        byte[] id = new byte[ID];
        random.nextBytes(id);
        Page page = new Page(HexFormat.of().formatHex(id), account, Duration.ZERO, doings(account));
        openPages.put(page.id, page);
        return at.isPresent() ? set(page.id, at.get()) : page;
    }

    /** What an account last did: by habit, or on a page of it. */
    private UserActions doings(String account) {
        UserActions habit = SimulatedActivity.simulate(account, clock.instant());
        UserActions here = seen.get(account);
        return here == null ? habit : habit.or(here);
    }

    Page page(String id) {
        Page page = openPages.getIfPresent(id);
        if (page == null) throw new HttpStatusException(404, "This page was closed meanwhile. Open it again.");
        return page;
    }

    Instant clock(Page page) {
        return clock.instant().plus(page.ahead);
    }

    /** Sets a page's clock forward. */
    Page set(String id, Instant at) {
        Page page = page(id);
        Duration ahead = Duration.between(clock.instant(), at);
        if (ahead.isNegative() || at.isBefore(clock(page).minusSeconds(1)))
            throw new HttpStatusException(422, "A page's clock only goes forward. Open the page anew to begin again.");
        if (ahead.compareTo(FARTHEST) > 0)
            throw new HttpStatusException(422, "A page's clock can be " + FARTHEST.toDays() + " days ahead at most.");
        return addPage(new Page(id, page.account, ahead, page.done));
    }

    /** Does what makes things show. */
    Page userActions(String id, UserAction userAction) {
        Page page = page(id);
        Page after = new Page(id, page.account, page.ahead, page.done.and(userAction, clock(page)));
        // What is done on a page whose clock is ahead has not happened.
        if (page.ahead.isZero()) seen.put(page.account, after.done);
        return addPage(after);
    }

    private Page addPage(Page page) {
        openPages.put(page.id, page);
        return page;
    }

    /** How a page shows, everywhere or in a workspace. */
    View view(Page page, Optional<String> workspace) {
        Instant at = clock(page);
        List<PageVisit> settings = new ArrayList<>();
        taken(page.account, workspace, at, page.done).forEach((key, propagatedValue) -> {
            DeliveredSettings shown = propagatedValue.shown();
            settings.add(new PageVisit(key, shown.value(), shown.shown(), shown.notice(), propagatedValue.waitsFor()));
        });
        return new View(page.id, page.account, at, !page.ahead.isZero(), page.done, settings);
    }

    /** Whether a control is there for an account now, whoever looks. */
    boolean isThere(String account, String setting) {
        PropagationSimulator.PropagatedValue propagatedValue = taken(
                        account, Optional.empty(), clock.instant(), doings(account))
                .get(setting);
        return propagatedValue != null && propagatedValue.shown().shown().equals("there");
    }

    /** What an account's page shows of a setting now, whoever looks; empty where the account has no page. */
    Optional<PageVisit> seen(String account, String setting, Optional<String> workspace) {
        try {
            PropagationSimulator.PropagatedValue propagatedValue =
                    taken(account, workspace, clock.instant(), doings(account)).get(setting);
            return Optional.ofNullable(propagatedValue)
                    .map(t -> new PageVisit(
                            setting,
                            t.shown().value(),
                            t.shown().shown(),
                            t.shown().notice(),
                            t.waitsFor()));
        } catch (HttpStatusException none) {
            return Optional.empty();
        }
    }

    private Map<String, PropagationSimulator.PropagatedValue> taken(
            String account, Optional<String> workspace, Instant at, UserActions done) {
        Catalogue catalogue = settingsClient.catalogue();
        Instant since = done.earliest().isBefore(at) ? done.earliest() : at;
        if (since.isBefore(at.minus(LONGEST_MEMORY))) since = at.minus(LONGEST_MEMORY);
        Map<String, List<PropagationSimulator.Entry>> entries =
                settingsClient.entries(account, workspace, since.minus(catalogue.longest()), at);
        Map<String, PropagationSimulator.PropagatedValue> taken = new LinkedHashMap<>();
        entries.forEach((key, history) -> {
            Catalogue.Meant meant = catalogue.settings().get(key);
            if (meant != null)
                taken.put(key, PropagationSimulator.compute(history, meant.settles(), account, meant.app(), at, done));
        });
        return taken;
    }
}
