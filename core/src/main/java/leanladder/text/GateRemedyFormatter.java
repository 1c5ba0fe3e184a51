package leanladder.text;

import java.util.ArrayList;
import java.util.List;
import leanladder.advise.GateRemedy;
import leanladder.estate.Account;
import leanladder.estate.Plan;

/** Tells in words what opens a closed gate. */
public record GateRemedyFormatter(EstateFormatter estateFormatter, Account account) {
    /** What is done, as a press says it. */
    public String words(GateRemedy gateRemedy) {
        if (gateRemedy instanceof GateRemedy.Seat seat)
            return seat.bought()
                    ? "Buy a seat of " + seat.plan().name() + " and give it"
                    : "Give a seat of " + seat.plan().name();
        if (gateRemedy instanceof GateRemedy.AdditionalSeat whole)
            return "Have this seat of " + whole.plan().name() + " carry all of it, by a rule that names "
                    + account.displayName();
        if (gateRemedy instanceof GateRemedy.RestoreComponent back)
            return "Put " + estateFormatter.component(back.component()) + " back into rule " + back.rule() + " of "
                    + back.plan().name() + ", for everyone whom it names";
        if (gateRemedy instanceof GateRemedy.SetPrerequisite on)
            return "Set " + on.setting().title() + " to " + estateFormatter.value(on.setting(), on.value()) + " for "
                    + account.displayName()
                    + on.in().map(p -> ", in " + p.name()).orElse(", by a policy of its own");
        if (gateRemedy instanceof GateRemedy.EarlyAccessRemedy earlyAccessRemedy)
            return "Open " + earlyAccessRemedy.setting().title() + " early to " + account.displayName()
                    + (earlyAccessRemedy.fresh() ? ", by a release of its own" : ", without the rest of the ring");
        GateRemedy.UpgradeHosting upgradeHosting = (GateRemedy.UpgradeHosting) gateRemedy;
        List<String> done = new ArrayList<>();
        if (upgradeHosting.grows()) done.add("hosting of size " + upgradeHosting.size());
        if (upgradeHosting.paid()) done.add("a paid term in place of the trial");
        String name = upgradeHosting.on().name();
        String others =
                upgradeHosting.sharing() > 1 ? ", for all " + upgradeHosting.sharing() + " workspaces on it" : "";
        if (done.isEmpty()) return "Let " + name + " run again" + others;
        return "Give " + name + " " + String.join(" and ", done)
                + (upgradeHosting.resumes() ? ", and let it run again" : "") + others;
    }

    /** What it costs, where that is known; empty where it costs nothing. */
    public String cost(GateRemedy gateRemedy) {
        if (!(gateRemedy instanceof GateRemedy.Seat seat) || !seat.bought()) return "";
        return price(seat.plan());
    }

    private static String price(Plan plan) {
        var price = plan.source().path("price");
        return price.isObject()
                ? price.path("amount").asText() + " " + price.path("currency").asText() + " a "
                        + price.path("per").asText()
                : "";
    }
}
