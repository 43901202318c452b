(for i in 1 2 3; do echo $i; sleep 0.2; done) | $D preview tide.yaml --value n --layer 'text says={n} on tide' --for 900ms --record live.csv
