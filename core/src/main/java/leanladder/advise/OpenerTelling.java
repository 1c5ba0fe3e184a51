package leanladder.advise;

import java.util.ArrayList;
import java.util.List;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.tell.Wording;

/** Tells in words what opens a closed gate. */
public record OpenerTelling(Wording wording, Account account) {
    /** What is done, as a press says it. */
    public String words(Opener opener) {
        if (opener instanceof Opener.Seat seat)
            return seat.bought()
                    ? "Buy a seat of " + seat.plan().name() + " and give it"
                    : "Give a seat of " + seat.plan().name();
        if (opener instanceof Opener.WholeSeat whole)
            return "Have this seat of " + whole.plan().name() + " carry all of it, by a rule that names "
                    + account.displayName();
        if (opener instanceof Opener.PutBack back)
            return "Put " + wording.component(back.component()) + " back into rule " + back.rule() + " of "
                    + back.plan().name() + ", for everyone whom it names";
        if (opener instanceof Opener.TurnOn on)
            return "Set " + on.setting().title() + " to " + wording.value(on.setting(), on.value()) + " for "
                    + account.displayName()
                    + on.in().map(p -> ", in " + p.name()).orElse(", by a policy of its own");
        if (opener instanceof Opener.Early early)
            return "Open " + early.setting().title() + " early to " + account.displayName()
                    + (early.fresh() ? ", by a release of its own" : ", without the rest of the ring");
        Opener.Host host = (Opener.Host) opener;
        List<String> done = new ArrayList<>();
        if (host.grows()) done.add("hosting of size " + host.size());
        if (host.paid()) done.add("a paid term in place of the trial");
        return "Give " + host.workspace().name() + " " + String.join(" and ", done);
    }

    /** What it costs, where that is known; empty where it costs nothing. */
    public String cost(Opener opener) {
        if (!(opener instanceof Opener.Seat seat) || !seat.bought()) return "";
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
