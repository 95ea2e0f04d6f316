-- Which worker answers for a document: the one that has it warm; one that comes into use goes to the worker with the fewest
-- that are. The front (front.conf) has one process, which keeps this in its memory; any worker could answer for any document.
local front = {}

local IN_USE = 60 -- seconds after a request for which a document counts as in use
local KEPT = 3600 -- seconds for which it is known where it was last

local count, turn = 1, 0
local worker_of, asked = {}, {}

function front.begin(workers)
  count = workers
end

-- How many documents are in use at each worker, from 0 on; what was not asked for in a long time is forgotten.
local function in_use(now)
  local busy = {}
  for worker = 0, count - 1 do
    busy[worker] = 0
  end
  for document, at in pairs(asked) do
    if now - at < IN_USE then
      busy[worker_of[document]] = busy[worker_of[document]] + 1
    elseif now - at > KEPT then
      worker_of[document], asked[document] = nil, nil
    end
  end
  return busy
end

-- The worker for a request; all of them in turn where it is for no document (an empty string).
function front.worker(document, now)
  if document == "" then
    turn = (turn + 1) % count
    return turn
  end
  local worker = worker_of[document]
  if not worker or now - asked[document] >= IN_USE then
    local busy = in_use(now)
    local least = 0
    for other = 1, count - 1 do
      if busy[other] < busy[least] then
        least = other
      end
    end
    -- Back where it may still be warm, unless that makes for an uneven share.
    if not worker or busy[worker] > busy[least] then
      worker = least
    end
  end
  worker_of[document], asked[document] = worker, now
  return worker
end

return front
