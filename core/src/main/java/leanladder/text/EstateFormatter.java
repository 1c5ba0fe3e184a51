package leanladder.text;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.stream.Collectors;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.catalogue.ValueType;
import leanladder.estate.Assignment;
import leanladder.estate.Device;
import leanladder.estate.Estate;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.estate.TimeWindow;
import leanladder.resolve.NonMatchReason;

/** Names, values and dates in the words in which people read them. */
public final class EstateFormatter {
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM", Locale.UK);
    private static final DateTimeFormatter DAY_AND_YEAR = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);
    private static final DateTimeFormatter MOMENT = DateTimeFormatter.ofPattern("EEE d MMM, HH:mm", Locale.UK);
    private static final DateTimeFormatter MOMENT_AND_YEAR =
            DateTimeFormatter.ofPattern("EEE d MMM yyyy, HH:mm", Locale.UK);
    private static final int ITEMS_TOLD = 3;

    private final Estate estate;
    private final ZonedDateTime now;

    /** @param at the instant asked about; dates of its year are told without the year */
    public EstateFormatter(Estate estate, Instant at) {
        this.estate = estate;
        this.now = at.atZone(estate.organisation().zone());
    }

    /** A day such as "3 Nov", in the organisation's time zone. */
    public String day(Instant instant) {
        ZonedDateTime then = instant.atZone(now.getZone());
        return abbreviated((then.getYear() == now.getYear() ? DAY : DAY_AND_YEAR).format(then));
    }

    /** The same of a day that is no instant. */
    public String day(LocalDate day) {
        return abbreviated((day.getYear() == now.getYear() ? DAY : DAY_AND_YEAR).format(day));
    }

    /** A moment such as "Thu 26 Nov, 14:20", in the organisation's time zone. */
    public String moment(Instant instant) {
        ZonedDateTime then = instant.atZone(now.getZone());
        return abbreviated((then.getYear() == now.getYear() ? MOMENT : MOMENT_AND_YEAR).format(then));
    }

    /** A time window as the end of a sentence: " from Thu 26 Nov, 14:20 until Fri 27 Nov, 08:00"; empty where it is open on both sides. */
    public String window(TimeWindow window) {
        return window.from().map(from -> " from " + moment(from)).orElse("")
                + window.until().map(until -> " until " + end(until)).orElse("");
    }

    /** An end: one at midnight includes the whole day before, "the end of 14 Dec". */
    public String end(Instant until) {
        ZonedDateTime then = until.atZone(now.getZone());
        return then.toLocalTime().equals(LocalTime.MIDNIGHT)
                ? "the end of " + day(then.minusDays(1).toLocalDate())
                : moment(until);
    }

    private static String abbreviated(String text) {
        return text.replace("Sept", "Sep");
    }

    public String kind(AccountKind accountKind) {
        return accountKind == AccountKind.SERVICE ? "service account" : accountKind.word();
    }

    /** A value as read: "On", "proven address", "15", "a.example, b.example and 2 more". */
    public String value(Value value) {
        if (value instanceof Value.Switch s) return s.on() ? "On" : "Off";
        if (value instanceof Value.Choice c) return words(c.option());
        if (value instanceof Value.IntegerValue w) return w.number().toString();
        if (value instanceof Value.Text t) return t.text().isEmpty() ? "no text" : t.text();
        if (value instanceof Value.Link l) return l.uri();
        if (value instanceof Value.LocalisedText texts) return localised(texts);
        if (value instanceof Value.Picture picture)
            return picture.content()
                    .map(p -> p.alt().isEmpty() ? "a picture" : "a picture: " + p.alt())
                    .orElse("no picture");
        return list(((Value.ListValue) value).items());
    }

    /** The text for every language that is not named, and how many others there are. */
    private static String localised(Value.LocalisedText texts) {
        String text = Objects.requireNonNull(texts.byTag().get(Value.LocalisedText.ANY));
        int more = texts.byTag().size() - 1;
        return (text.isEmpty() ? "no text" : text)
                + (more == 0
                        ? ""
                        : more == 1 ? " (and in one more language)" : " (and in " + more + " more languages)");
    }

    private static String list(List<String> items) {
        if (items.isEmpty()) return "empty list";
        if (items.size() <= ITEMS_TOLD) return String.join(", ", items);
        return String.join(", ", items.subList(0, ITEMS_TOLD)) + " and " + (items.size() - ITEMS_TOLD) + " more";
    }

    /** An option as words: the names of options are written with hyphens. A ring goes by its name. */
    private String words(String option) {
        return estate.ring(option).map(leanladder.estate.Ring::name).orElse(option.replace('-', ' '));
    }

    /** A value with the unit of measure of its setting, where the catalogue names one; people by name. */
    public String value(Setting setting, Value value) {
        String unit = setting.source().path("unit").asText("");
        if (setting.type() instanceof ValueType.PeopleType && value instanceof Value.ListValue people)
            return people.items().isEmpty()
                    ? "nobody"
                    : list(people.items().stream().map(this::target).toList());
        return value instanceof Value.IntegerValue && !unit.isEmpty() ? value(value) + " " + unit : value(value);
    }

    /** What a statement says: "On", "On, locked", "at most customs". */
    public String statement(Setting setting, Statement statement) {
        String value = value(setting, statement.value());
        if (statement instanceof Statement.Cap) return "at most " + value;
        return ((Statement.Set) statement).lock() ? value + ", locked" : value;
    }

    /** "Own stickers is Off". */
    public String inForce(String key, Value value) {
        Setting setting = estate.catalogue().setting(key).orElseThrow();
        return setting.title() + " is " + value(setting, value);
    }

    /** What a component of a licence plan is called. */
    public String component(String id) {
        return estate.catalogue().entitlements().getOrDefault(id, id);
    }

    /** "Record meetings on", "Reach of cargo papers at customs". */
    private String required(Setting setting, Value value) {
        return value instanceof Value.Switch on
                ? setting.title() + (on.on() ? " on" : " off")
                : setting.title() + " at " + value(setting, value);
    }

    /** The name of a need: what its gate asks for. */
    public String need(Need need) {
        if (need instanceof Need.Entitlement e)
            return "Licence for " + e.anyOf().stream().map(this::component).collect(Collectors.joining(" or "));
        if (need instanceof Need.MinimumSetting other) {
            Setting setting = estate.catalogue().setting(other.setting()).orElseThrow();
            return required(setting, other.value()) + (other.value() instanceof Value.Switch ? "" : " or looser");
        }
        if (need instanceof Need.ExactSetting exactSetting) {
            Setting setting = estate.catalogue().setting(exactSetting.setting()).orElseThrow();
            return required(setting, exactSetting.value());
        }
        if (need instanceof Need.AccountKinds accountKinds)
            return "Only for a " + accountKinds.kinds().stream().map(this::kind).collect(Collectors.joining(" or a "));
        if (need instanceof Need.ReleaseNeed) return "Release";
        if (need instanceof Need.Hosting hosting)
            return "Hosting of size " + hosting.size() + (hosting.allowTrial() ? ", a trial counts" : ", no trial");
        if (need instanceof Need.WorkspaceRole role)
            return "Only for a "
                    + role.roles().stream().map(EstateFormatter::role).collect(Collectors.joining(" or a "))
                    + " of the workspace";
        if (need instanceof Need.Device device) return device(device);
        if (need instanceof Need.Region region)
            return "Region "
                    + region.regions().stream()
                            .map(r -> r.toUpperCase(Locale.ROOT))
                            .collect(Collectors.joining(" or "));
        return "Either: "
                + ((Need.AnyOf) need).needs().stream().map(this::need).collect(Collectors.joining(" · or · "));
    }

    /** What an app is called. */
    public String app(String id) {
        return estate.catalogue().apps().getOrDefault(id, id);
    }

    /** What an account can be in a workspace. */
    public static String role(Need.Role role) {
        return role.name().toLowerCase(Locale.ROOT);
    }

    /** "Chat 5.2 or later on a tablet". */
    private String device(Need.Device need) {
        String kinds = need.kinds().stream().sorted().collect(Collectors.joining(" or "));
        String app = need.app()
                .map(a -> app(a)
                        + need.atLeast().map(v -> " " + v.text() + " or later").orElse(""))
                .orElse("");
        if (app.isEmpty()) return "Device: " + kinds;
        return app + (kinds.isEmpty() ? " on a device" : " on a device: " + kinds);
    }

    /** A device with its apps: "Bridge tablet, Chat 5.2.1"; one without a name goes by its kind. */
    public String device(Device device) {
        String apps = device.apps().entrySet().stream()
                .map(e -> app(e.getKey()) + " " + e.getValue().text())
                .sorted()
                .collect(Collectors.joining(", "));
        return device.name().filter(n -> !n.isBlank()).orElse(device.kind()) + (apps.isEmpty() ? "" : ", " + apps);
    }

    /** Whom an assignment is for, and where: "Night watch", "Night watch in Bridge handbook". */
    public String whom(Assignment assignment) {
        return target(assignment.target())
                + assignment.in().map(place -> " in " + target(place)).orElse("");
    }

    /** Whom a target names. */
    public String target(Target target) {
        if (target instanceof Target.UnitTarget unit)
            return estate.unit(unit.id()).map(u -> u.name()).orElse(unit.id());
        if (target instanceof Target.GroupTarget group)
            return estate.group(group.id()).map(g -> g.name()).orElse(group.id());
        if (target instanceof Target.AccountTarget account)
            return estate.account(account.id()).map(a -> a.displayName()).orElse(account.id());
        if (target instanceof Target.WorkspaceTarget workspace)
            return estate.workspace(workspace.id()).map(w -> w.name()).orElse(workspace.id());
        if (target instanceof Target.HostingTarget hosting)
            return estate.hosting(hosting.id()).map(h -> h.name()).orElse(hosting.id());
        return estate.organisation().name();
    }

    /** Whom a target names, given as the estate file writes it. */
    public String target(String text) {
        return Target.parse(text).map(this::target).orElse(text);
    }

    /** Why a policy that names an account does not reach it, in a few words. */
    public String missed(NonMatchReason nonMatchReason) {
        return switch (nonMatchReason.verdict()) {
            case PAUSED -> "paused";
            case EARLY ->
                "begins "
                        + moment(nonMatchReason
                                .window()
                                .flatMap(TimeWindow::from)
                                .orElseThrow());
            case ENDED ->
                "window ended "
                        // The last instant inside: a window that ends at midnight ended with the day before.
                        + day(nonMatchReason
                                .window()
                                .flatMap(TimeWindow::until)
                                .orElseThrow()
                                .minusNanos(1));
            default -> {
                String target = nonMatchReason.by().orElseThrow();
                yield "excepted" + (target.startsWith("account:") ? " by name" : " as one of " + target(target));
            }
        };
    }
}
