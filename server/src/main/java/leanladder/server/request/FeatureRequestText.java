package leanladder.server.request;

import java.time.Instant;
import leanladder.server.draft.SettlingFormatter;
import leanladder.settle.SettleTime;
import leanladder.store.requests.FeatureRequest;
import leanladder.text.EstateFormatter;

/** What became of a request, in a sentence for the person who made it. */
record FeatureRequestText(EstateFormatter estateFormatter, Instant now) {
    String of(FeatureRequest request, SettleTime settleTime) {
        String asked = "You asked for it on " + estateFormatter.day(request.asked()) + ". ";
        if (request.state() == FeatureRequest.RequestState.OPEN) return asked + "Nobody has answered yet.";
        Instant answered = request.answered().orElseThrow();
        if (request.state() == FeatureRequest.RequestState.DECLINED)
            return asked + "It was declined on " + estateFormatter.day(answered) + ": "
                    + request.sentence().orElse("");
        if (request.state() == FeatureRequest.RequestState.CLOSED)
            return asked + "It was closed on " + estateFormatter.day(answered) + ": "
                    + request.sentence().orElse("");
        Instant there = answered.plus(settleTime.most());
        String then = SettlingFormatter.after(settleTime.then());
        return asked + "It was granted on " + estateFormatter.day(answered)
                + (there.isAfter(now)
                        ? ", and is there by " + estateFormatter.moment(there) + " at the latest" + then + "."
                        : then.isEmpty() ? ", and is there." : ", and is there" + then.substring(1) + ".");
    }
}
