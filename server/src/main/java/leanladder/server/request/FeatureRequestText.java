package leanladder.server.request;

import java.time.Instant;
import leanladder.server.draft.SettlingFormatter;
import leanladder.settle.SettleTime;
import leanladder.store.requests.FeatureRequest;
import leanladder.text.EstateFormatter;

/** What became of a request, in a sentence for the person who made it. */
record FeatureRequestText(EstateFormatter wording, Instant now) {
    String of(FeatureRequest request, SettleTime settleTime) {
        String asked = "You asked for it on " + wording.day(request.asked()) + ". ";
        if (request.state() == FeatureRequest.RequestState.OPEN) return asked + "Nobody has answered yet.";
        Instant answered = request.answered().orElseThrow();
        if (request.state() == FeatureRequest.RequestState.DECLINED)
            return asked + "It was declined on " + wording.day(answered) + ": "
                    + request.sentence().orElse("");
        if (request.state() == FeatureRequest.RequestState.CLOSED)
            return asked + "It was closed on " + wording.day(answered) + ": "
                    + request.sentence().orElse("");
        Instant there = answered.plus(settleTime.most());
        String then = SettlingFormatter.after(settleTime.then());
        return asked + "It was granted on " + wording.day(answered)
                + (there.isAfter(now)
                        ? ", and is there by " + wording.moment(there) + " at the latest" + then + "."
                        : then.isEmpty() ? ", and is there." : ", and is there" + then.substring(1) + ".");
    }
}
