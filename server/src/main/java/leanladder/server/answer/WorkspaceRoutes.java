package leanladder.server.answer;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Workspace;
import leanladder.reach.ReachedSets;
import leanladder.reach.Rung;
import leanladder.resolve.Column;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.resolve.Share;
import leanladder.resolve.Spoken;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Answers;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.list.AccountPage;
import leanladder.tell.Wording;
import org.roaringbitmap.RoaringBitmap;

/** What a workspace has its own word on, what becomes of that for those who work there, and what its hosting keeps from them. */
public record WorkspaceRoutes(Inquiry.Reader inquiries) implements Room {
    /** A statement made for the workspace, be it in force or not. @param value in words */
    public record WorkspaceWord(String policy, String name, boolean cap, boolean lock, String value) {}

    /** What becomes of it for some members. */
    public enum Fate {
        /** They have another value here than elsewhere. */
        OVERRIDDEN,
        /** A lock further down decides for them, whatever is said here. */
        HELD,
        /** What is said of them in person counts more. */
        PERSONAL,
        /** The hosting is too small for them to have it here, or a trial. */
        UNHOSTED
    }

    /**
     * Members of whom the same is true.
     *
     * @param id tells it from the others of its setting
     * @param value what they have here, in words
     * @param elsewhere what they have where no workspace is asked about, where it differs
     * @param by the policy that decides for them here
     */
    public record WorkspaceFate(
            String id,
            Fate fate,
            String value,
            Optional<String> elsewhere,
            Optional<String> by,
            Optional<String> byId,
            int accounts) {}

    /**
     * A setting as it stands in a workspace.
     *
     * @param open whether workspaces may have their own word on it
     * @param usual what most members have here, in words
     * @param need what the hosting must be, in words, where it must be something
     */
    public record WorkspaceSetting(
            String key,
            String title,
            Optional<String> app,
            boolean open,
            Optional<String> usual,
            @Shape("Value") Optional<JsonNode> inForce,
            Optional<String> need,
            List<WorkspaceWord> words,
            List<WorkspaceFate> fates) {}

    /** A workspace's settings: those open to workspaces, and those that its hosting keeps from its members. */
    public record WorkspaceSettings(long change, String name, int members, List<WorkspaceSetting> settings) {}

    private record Group(
            Fate fate, Value value, Optional<Value> elsewhere, Optional<String> by, RoaringBitmap accounts) {
        boolean isLike(Group other) {
            return fate == other.fate
                    && value.equals(other.value)
                    && elsewhere.equals(other.elsewhere)
                    && by.equals(other.by);
        }

        String id() {
            return String.join(
                    " ",
                    Answers.word(fate),
                    value.json().toString(),
                    elsewhere.map(v -> v.json().toString()).orElse(""),
                    by.orElse(""));
        }
    }

    @Override
    public void routes(Api api) {
        api.get("/workspaces/{id}/settings", this::settings, WorkspaceSettings.class);
        api.get("/workspaces/{id}/people", this::people, AccountPage.PeopleList.class);
    }

    private static Workspace workspace(Inquiry inquiry, String id) {
        return inquiry.estate()
                .workspace(id)
                .orElseThrow(() -> Problem.unknown("There is no workspace \"" + id + "\"."));
    }

    private static RoaringBitmap members(Inquiry inquiry, Workspace workspace) {
        RoaringBitmap members = inquiry.directory().holding(workspace.members());
        members.and(inquiry.directory().active());
        return members;
    }

    private Answer settings(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        Workspace workspace = workspace(inquiry, call.path("id"));
        RoaringBitmap members = members(inquiry, workspace);
        List<WorkspaceSetting> settings = new ArrayList<>();
        for (Setting setting : inquiry.estate().catalogue().settings().values()) {
            if (!setting.openToWorkspaces() && hosting(setting).isEmpty()) continue;
            List<Group> groups = groups(inquiry, workspace, setting, members);
            boolean unhosted = groups.stream().anyMatch(g -> g.fate == Fate.UNHOSTED);
            if (setting.openToWorkspaces() || unhosted)
                settings.add(told(inquiry, workspace, setting, members, groups));
        }
        return Answer.of(new WorkspaceSettings(
                inquiry.snapshot().change(), workspace.name(), members.getCardinality(), settings));
    }

    private Answer people(Call call) {
        Query query = call.query(Query.about("setting", "id", "limit", "after", "format"));
        Inquiry inquiry = inquiries.of(query);
        Workspace workspace = workspace(inquiry, call.path("id"));
        Setting setting = inquiry.setting(query.required("setting"));
        RoaringBitmap members = members(inquiry, workspace);
        RoaringBitmap which = query.one("id")
                .map(id -> groups(inquiry, workspace, setting, members).stream()
                        .filter(g -> g.id().equals(id))
                        .findFirst()
                        .map(Group::accounts)
                        .orElseGet(RoaringBitmap::new))
                .orElse(members);
        return Answer.of(AccountPage.answer(query, inquiry.directory(), which));
    }

    private static Optional<Need.Hosting> hosting(Setting setting) {
        return setting.allNeeds()
                .filter(Need.Hosting.class::isInstance)
                .map(Need.Hosting.class::cast)
                .findFirst();
    }

    private static WorkspaceSetting told(
            Inquiry inquiry, Workspace workspace, Setting setting, RoaringBitmap members, List<Group> groups) {
        Wording wording = inquiry.wording();
        Optional<Value> usual = there(inquiry, workspace, setting).inForce().entrySet().stream()
                .max(Comparator.comparingInt(e -> RoaringBitmap.andCardinality(e.getValue(), members)))
                .filter(e -> RoaringBitmap.intersects(e.getValue(), members))
                .map(Map.Entry::getKey);
        return new WorkspaceSetting(
                setting.key(),
                setting.title(),
                inquiry.app(setting),
                setting.openToWorkspaces(),
                usual.map(v -> wording.value(setting, v)),
                usual.map(Value::json),
                hosting(setting).map(wording::need),
                setting.openToWorkspaces()
                        ? speaking(inquiry, workspace, setting)
                                .map(s -> word(s, setting, wording))
                                .toList()
                        : List.of(),
                groups.stream()
                        .map(g -> new WorkspaceFate(
                                g.id(),
                                g.fate,
                                wording.value(setting, g.value),
                                g.elsewhere.map(v -> wording.value(setting, v)),
                                g.by.flatMap(inquiry.estate()::policy).map(Policy::name),
                                g.by,
                                g.accounts.getCardinality()))
                        .toList());
    }

    private static WorkspaceWord word(Spoken spoken, Setting setting, Wording wording) {
        Statement statement = spoken.statement();
        return new WorkspaceWord(
                spoken.policy().id(),
                spoken.policy().name(),
                statement instanceof Statement.Cap,
                statement instanceof Statement.Set set && set.lock(),
                wording.value(setting, statement.value()));
    }

    /** The statements on a setting that are made for a workspace now. */
    private static java.util.stream.Stream<Spoken> speaking(Inquiry inquiry, Workspace workspace, Setting setting) {
        return inquiry.snapshot().ground().spokenOn(setting.key()).stream()
                .filter(s -> s.policy().live()
                        && now(s.policy(), inquiry).stream()
                                .anyMatch(a -> a.include() && a.target().text().equals("workspace:" + workspace.id())));
    }

    private static List<Assignment> now(Policy policy, Inquiry inquiry) {
        return policy.assignments().stream()
                .filter(a -> a.window().holds(inquiry.question().at()))
                .toList();
    }

    private static Column there(Inquiry inquiry, Workspace workspace, Setting setting) {
        Question there = new Question(inquiry.question().at(), Optional.of(workspace.id()));
        return inquiry.snapshot().moment(there).solution().column(setting.key());
    }

    /** What becomes of a setting for the members of a workspace, most of them first. */
    private static List<Group> groups(Inquiry inquiry, Workspace workspace, Setting setting, RoaringBitmap members) {
        Column there = there(inquiry, workspace, setting);
        Column elsewhere = inquiry.snapshot()
                .moment(Question.at(inquiry.question().at()))
                .solution()
                .column(setting.key());
        RoaringBitmap spokenTo = new RoaringBitmap();
        if (setting.openToWorkspaces())
            speaking(inquiry, workspace, setting)
                    .filter(s -> s.statement() instanceof Statement.Set)
                    .map(s ->
                            ReachedSets.of(now(s.policy(), inquiry), inquiry.directory(), Optional.of(workspace.id())))
                    .map(reached -> reached.byRung().get(Rung.WORKSPACE))
                    .filter(java.util.Objects::nonNull)
                    .forEach(spokenTo::or);
        List<Group> groups = new ArrayList<>();
        for (Share<Outcome> share : there.shares()) {
            RoaringBitmap here = RoaringBitmap.and(share.accounts(), members);
            if (here.isEmpty()) continue;
            Outcome outcome = share.what();
            if (outcome.blockedBy().stream().flatMap(Need::flatten).anyMatch(Need.Hosting.class::isInstance))
                add(groups, Fate.UNHOSTED, outcome, Optional.of(outcome.decided()), here);
            else {
                for (Map.Entry<Value, RoaringBitmap> other : elsewhere.inForce().entrySet())
                    if (!other.getKey().equals(outcome.value()))
                        add(
                                groups,
                                Fate.OVERRIDDEN,
                                outcome,
                                Optional.of(other.getKey()),
                                RoaringBitmap.and(other.getValue(), here));
            }
            RoaringBitmap unheard = RoaringBitmap.and(here, spokenTo);
            int compared = outcome.rung().compareTo(Rung.WORKSPACE);
            if (compared < 0) add(groups, Fate.HELD, outcome, Optional.empty(), unheard);
            if (compared > 0) add(groups, Fate.PERSONAL, outcome, Optional.empty(), unheard);
        }
        groups.sort(Comparator.comparing((Group g) -> g.fate)
                .thenComparing(Comparator.comparingInt((Group g) -> g.accounts.getCardinality())
                        .reversed()));
        return groups;
    }

    private static void add(
            List<Group> groups, Fate fate, Outcome outcome, Optional<Value> elsewhere, RoaringBitmap accounts) {
        if (accounts.isEmpty()) return;
        Group fresh = new Group(fate, outcome.value(), elsewhere, outcome.policy(), accounts);
        groups.stream()
                .filter(fresh::isLike)
                .findFirst()
                .ifPresentOrElse(like -> like.accounts.or(accounts), () -> groups.add(fresh));
    }
}
