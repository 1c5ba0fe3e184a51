package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.Setting;
import leanladder.document.CodePointOrder;
import leanladder.estate.Account;
import leanladder.resolve.Climb;
import leanladder.resolve.Climber;
import leanladder.resolve.Question;
import leanladder.resolve.Solution;

/** Outcomes and climbs, with the field names of the estate format. */
record OutcomeRoutes(Estates estates) {
    private static final int LINES = 20_000;

    /** Outcomes of the accounts and settings asked for, by account id, then key; of everything where none are named. */
    void outcomes(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about("app", "after", "limit"), Set.of("account", "setting"));
        Query.Asked asked = query.asked(estates);
        Present present = asked.estate();
        Question question = asked.question();
        List<Setting> settings = settings(present, query);
        List<Account> accounts = accounts(present, query);
        int fitting = Math.max(1, query.number("limit", LINES, LINES) / Math.max(1, settings.size()));
        Optional<String> after = query.one("after");
        List<Account> page = accounts.stream()
                .filter(a -> after.isEmpty() || CodePointOrder.TEXTS.compare(a.id(), after.get()) > 0)
                .limit(fitting + 1L)
                .toList();
        boolean more = page.size() > fitting;
        if (more) page = page.subList(0, fitting);
        ObjectNode answer = answer(present, question);
        ArrayNode lines = answer.putArray("outcomes");
        List<Account> shown = page;
        present.moment(question).solve(solution -> fill(solution, shown, settings, lines));
        answer.put("next", more ? page.get(page.size() - 1).id() : null);
        Answers.json(ctx, answer);
    }

    private static Void fill(Solution solution, List<Account> accounts, List<Setting> settings, ArrayNode lines) {
        for (Account account : accounts) {
            int number = solution.ground().directory().number(account.id());
            for (Setting setting : settings)
                lines.add(solution.column(setting.key()).of(number).json(account.id(), setting.key()));
        }
        return null;
    }

    private static ObjectNode answer(Present present, Question question) {
        ObjectNode answer = Answers.object();
        answer.put("change", present.change());
        answer.put("at", question.at().toString());
        answer.put("workspace", question.workspace().orElse(null));
        return answer;
    }

    private static List<Setting> settings(Present present, Query query) {
        Catalogue catalogue = present.ground().estate().catalogue();
        List<String> keys = query.all("setting");
        Optional<String> app = query.one("app");
        app.filter(a -> !catalogue.apps().containsKey(a)).ifPresent(a -> {
            throw Problem.unknown("The catalogue has no app \"" + a + "\".");
        });
        keys.forEach(k -> setting(present, k));
        return catalogue.settings().values().stream()
                .filter(s -> keys.isEmpty() || keys.contains(s.key()))
                .filter(s -> app.isEmpty() || s.app().equals(app))
                .toList();
    }

    private static List<Account> accounts(Present present, Query query) {
        List<String> ids = query.all("account");
        if (ids.isEmpty())
            return present.ground().estate().accounts().stream()
                    .filter(Account::active)
                    .toList();
        List<Account> asked = new ArrayList<>();
        for (String id : ids) asked.add(account(present, id));
        asked.sort(java.util.Comparator.comparing(Account::id, CodePointOrder.TEXTS));
        return asked;
    }

    /** An active account, or a problem that says why there is none. */
    static Account account(Present present, String id) {
        Account account = present.ground()
                .estate()
                .account(id)
                .orElseThrow(() -> Problem.unknown("There is no account \"" + id + "\"."));
        if (!account.active())
            throw Problem.unknown("The account \"" + id + "\" is inactive and has no outcomes.")
                    .with("inactive", leanladder.document.Json.NODES.booleanNode(true));
        return account;
    }

    static Setting setting(Present present, String key) {
        return present.ground()
                .estate()
                .catalogue()
                .setting(key)
                .orElseThrow(() -> Problem.unknown("The catalogue has no setting \"" + key + "\"."));
    }

    /** The climb to one outcome, and beside it what a drawing needs: the rungs of this account, names, and words. */
    void climb(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about("account", "setting"), Set.of());
        Query.Asked asked = query.asked(estates);
        Present present = asked.estate();
        Question question = asked.question();
        Account account = account(present, query.required("account"));
        Setting setting = setting(present, query.required("setting"));
        Climber climber = present.climber(question, account);
        Climb climb = climber.climb(setting);
        ObjectNode answer = leanladder.tell.ClimbJson.of(climb, present.ground().estate());
        answer.put("change", present.change());
        answer.put("at", question.at().toString());
        answer.set("drawing", new Drawing(present.ground(), climber, climb).json());
        Answers.json(ctx, answer);
    }
}
